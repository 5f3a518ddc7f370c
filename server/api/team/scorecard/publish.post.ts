import { IsInt, Max, Min } from 'class-validator'
import { defineEventHandler } from 'h3'
import { publishScorecard } from '#db/scoring'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { changedMeanwhile, scorecardView } from '#server/scoring/scorecard'
import { memberOf } from '#server/session'
import { MOST_REVISION, readChecked } from '#server/wire'

class Publish {
  @IsInt() @Min(0) @Max(MOST_REVISION) revision!: number
}

/** Makes the working copy the scorecard that scores. It takes effect on the leads there are in the background. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit scorecard')
  const { revision } = await readChecked(event, Publish)
  const { sql, cache } = applicationContext()
  const view = await scorecardView(sql, await cache.ruleset())
  const stops = view.checks.filter(c => c.level === 'stop')
  if (stops.length)
    throw problem(
      422,
      'The scorecard cannot go live yet; see the list.',
      stops.map(s => ({ field: s.place, message: s.message })),
    )
  if (view.revision !== revision) throw changedMeanwhile()
  const edition = await sql.begin(tx => publishScorecard(tx, revision, member.id, new Date()))
  if (!edition) throw problem(409, 'This scorecard is live as it stands, or was changed a moment ago. Load it again.')
  await changed({ scorecard: true, leads: true })
  await say(sql, { jobs: true })
  return scorecardView(sql, await cache.ruleset())
})
