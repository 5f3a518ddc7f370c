import type { Condition } from '#core/conditions/condition'
import { inWords } from '#core/conditions/words'
import { asScorecard, leadCondition } from '#core/learning/as-card'
import type { Learned } from '#core/learning/learn'
import { scorerOf } from '#core/learning/score-rows'
import { readScorecard, type Scorecard } from '#core/scoring/scorecard'
import type { SuggestionView } from '#core/team'
import { addLearnJob, latestLearnJob, type LearnInput, type LearnJob, type LearnJobOptions } from '#db/learn-jobs'
import { pointsToPlace } from '#db/points'
import { liveScorecard } from '#db/scoring'
import type { Sql } from '#db/client'
import { newId } from '#server/ids'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'
import { rowsToday } from '#server/scoring/learn-rows'

/** Begins to learn. @returns the id of the job @throws 429 where too many wait */
export async function beginLearning(sql: Sql, input: LearnInput, options: LearnJobOptions, by: string | null): Promise<string> {
  const id = newId()
  if (!(await addLearnJob(sql, { id, input, options }, by)))
    throw problem(429, 'Several scorecards are being learned. Try again when one of them is done.')
  await say(sql, { dryRun: true, jobs: true })
  return id
}

/** What was learned, each rule with its sentence. */
export const learnedInWords = ({ rules, intercept, perPoint, crossValidated, rows, positives, notes }: Learned) => ({
  rules: rules.map(r => ({ ...r, sentence: inWords(r.when, { attribute: name => name, value: (_, value) => String(value) }) })),
  intercept,
  perPoint,
  crossValidated,
  rows,
  positives,
  notes,
})

/** How a rule over leads is said. */
async function sayer(sql: Sql, ruleset: Ruleset): Promise<(when: Condition) => string> {
  const points = new Map((await pointsToPlace(sql)).map(p => [p.key, p.name]))
  const property = (name: string) => ruleset.properties.find(p => `property.${p.key}` === name)
  return when =>
    inWords(leadCondition(when) ?? when, {
      attribute: name => property(name)?.label ?? (name === 'point' ? 'the form' : name),
      value: (name, value) =>
        name === 'point'
          ? `“${points.get(String(value)) ?? String(value)}”`
          : `“${property(name)?.choices.find(c => c.value === value)?.text ?? String(value)}”`,
    })
}

/** The scorecard that was learned for the team last, or is being learned. */
export async function suggestionView(sql: Sql, ruleset: Ruleset): Promise<SuggestionView | null> {
  const job = await latestLearnJob(sql)
  if (!job) return null
  const words = await sayer(sql, ruleset)
  const { result } = job
  return {
    id: job.id,
    madeAt: job.madeAt.toISOString(),
    madeBy: job.madeBy,
    state: job.state,
    progress: job.progress,
    problem: job.problem,
    result: result && {
      rules: result.rules.flatMap(r => (leadCondition(r.when) ? [{ sentence: words(r.when), points: r.points }] : [])),
      crossValidated: result.crossValidated,
      live: result.live ?? null,
      rows: result.rows,
      positives: result.positives,
      notes: result.notes,
    },
  }
}

/** The learned rules as a working copy: the fit of the card that is live is theirs; labels are reached by as many as before. */
export async function suggestedCard(sql: Sql, ruleset: Ruleset, job: Pick<LearnJob, 'result'>): Promise<Scorecard> {
  const live = readScorecard((await liveScorecard(sql))?.definition).scorecard
  if (!live || !job.result) throw problem(409, 'There is nothing to take: no scorecard was learned yet.')
  const score = scorerOf(job.result.rules)
  const fits = (await rowsToday(sql, ruleset, Date.now())).map(({ row, fit }) => ({ was: fit, would: score(row) }))
  return asScorecard(live, job.result.rules, fits, await sayer(sql, ruleset))
}
