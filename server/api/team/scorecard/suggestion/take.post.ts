import { IsInt, Max, Min } from 'class-validator'
import { defineEventHandler } from 'h3'
import { latestLearnJob } from '#db/learn-jobs'
import { saveScorecardDraft } from '#db/scoring'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { changedMeanwhile, readCard } from '#server/scoring/scorecard'
import { suggestedCard } from '#server/scoring/suggestion'
import { memberOf } from '#server/session'
import { MOST_REVISION, readChecked } from '#server/wire'

class Take {
  /** Of the working copy that it takes the place of. */
  @IsInt() @Min(0) @Max(MOST_REVISION) revision!: number
}

/** Takes what was learned as the working copy. Nothing is scored by it before it is made live. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit scorecard')
  const { revision } = await readChecked(event, Take)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const job = await latestLearnJob(sql)
  if (!job?.result) throw problem(409, 'No scorecard has been learned yet.')
  const card = readCard(await suggestedCard(sql, ruleset, job), ruleset)
  const now = await saveScorecardDraft(sql, card, revision, member.id)
  if (now === null) throw changedMeanwhile()
  await say(sql, { scorecard: true })
  return { revision: now }
})
