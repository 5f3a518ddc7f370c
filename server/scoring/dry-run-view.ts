import { nameOf } from '#core/leads/lead'
import type { Mover } from '#core/scoring/dry-run'
import { labelFor } from '#core/scoring/labels'
import { scoreAt } from '#core/scoring/lines'
import { readScorecard } from '#core/scoring/scorecard'
import type { DryRunView, MovedPerson, WhyUnderBoth } from '#core/team'
import { leadState } from '#db/book'
import type { Sql } from '#db/client'
import { beginDryRun, dryRun, movedByIds, type MovedLead, type Whom } from '#db/dry-run'
import { liveScorecard, scorecardDraft } from '#db/scoring'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'
import { weigh, weighingBy } from '#server/scoring/dry-run'
import { changedMeanwhile, checksOf } from '#server/scoring/scorecard'

/** Begins a dry run of the working copy. @returns its id */
export async function beginRun(sql: Sql, ruleset: Ruleset, revision: number, who: Whom, by: string): Promise<string> {
  const draft = await scorecardDraft(sql)
  if (!draft) throw problem(409, 'Nothing was changed on the scorecard yet: there is nothing to try.')
  if (draft.revision !== revision) throw changedMeanwhile()
  const { scorecard } = readScorecard(draft.definition)
  if (!scorecard) throw problem(409, 'The working copy cannot be read. Take an earlier edition as the working copy.')
  const stops = (await checksOf(sql, scorecard, ruleset)).filter(c => c.level === 'stop')
  if (stops.length)
    throw problem(
      422,
      'The scorecard cannot be tried yet; see the list.',
      stops.map(s => ({ field: s.place, message: s.message })),
    )
  if (who.segment && !ruleset.segments.has(who.segment))
    throw problem(422, 'There is no such segment any more.', [{ field: 'segment', message: 'There is no such segment any more.' }])
  const at = new Date()
  const run = { id: newId(at.getTime()), at, revision, definition: scorecard, card: ruleset.card, who }
  if (!(await beginDryRun(sql, run, by))) {
    const other = await dryRun(sql)
    throw problem(409, `A dry run goes on${other?.madeBy ? `, begun by ${other.madeBy}` : ''}. Stop it, or wait until it is done.`)
  }
  return run.id
}

/** The dry run that there is, as its screen shows it. */
export async function dryRunView(sql: Sql): Promise<DryRunView | null> {
  const [run, draft, live] = await Promise.all([dryRun(sql), scorecardDraft(sql), liveScorecard(sql)])
  if (!run) return null
  const { result } = run
  const movers = result ? [...result.gains, ...result.losses].map(m => m.lead) : []
  const people = new Map((await movedByIds(sql, movers)).map(p => [p.lead, p]))
  // Who was erased meanwhile is nobody any more.
  const named = (all: Mover[]) =>
    all.flatMap(m => (people.has(m.lead) ? [{ ...m, name: people.get(m.lead)!.name, owner: people.get(m.lead)!.owner }] : []))
  return {
    id: run.id,
    at: run.at.toISOString(),
    by: run.madeBy,
    revision: run.revision,
    who: run.who,
    state: run.state,
    total: run.total,
    done: run.done,
    problem: run.problem,
    card: run.card,
    isCurrent: draft?.revision === run.revision && live?.number === run.card,
    result: result && { ...result, gains: named(result.gains), losses: named(result.losses) },
  }
}

/** @param labels in their order, the lowest first */
export const personMoved = (row: MovedLead, labels: string[]): MovedPerson => ({
  lead: row.lead,
  name: row.name,
  company: row.company,
  owner: row.owner,
  status: row.status,
  from: labels[row.was - 1] ?? null,
  to: labels[row.would - 1] ?? null,
  before: { fit: row.fitWas, interest: row.interestWas },
  after: { fit: row.fit, interest: row.interest },
})

/** The lines of a lead by the card that is live and by the one that was tried, at the moment of the dry run. */
export async function whyUnderBoth(sql: Sql, ruleset: Ruleset, id: string): Promise<WhyUnderBoth> {
  const [run, lead] = await Promise.all([dryRun(sql), leadState(sql, id)])
  const tried = run && readScorecard(run.definition).scorecard
  if (!run || !tried) throw problem(404, 'There is no dry run.')
  if (!lead) throw problem(404, 'There is no lead with this id any more.')
  const now = run.at.getTime()
  const by = weighingBy(ruleset, tried, now)
  const [would] = await weigh(sql, by, [lead])
  const { scorecard, labelOrder } = ruleset
  const live = scoreAt(lead.reasons, now, scorecard.halfLifeDays)
  return {
    lead: lead.id,
    name: nameOf(lead),
    live: { label: labelFor(scorecard, labelOrder, live, lead).label, ...live },
    tried: { label: would!.label, ...scoreAt(would!.lines, now, tried.halfLifeDays) },
  }
}
