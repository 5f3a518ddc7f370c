import { IsInt, Max, Min } from 'class-validator'
import { defineEventHandler } from 'h3'
import { publishPlan } from '#db/routing'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { planChangedMeanwhile, planView } from '#server/routing/plan'
import { memberOf } from '#server/session'
import { MOST_REVISION, readChecked } from '#server/wire'

class Publish {
  @IsInt() @Min(0) @Max(MOST_REVISION) revision!: number
}

/** Makes the working copy the plan that routes. Who has an owner keeps them. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit plan')
  const { revision } = await readChecked(event, Publish)
  const { sql, cache } = applicationContext()
  const view = await planView(sql, await cache.ruleset())
  const stops = view.checks.filter(c => c.level === 'stop')
  if (stops.length)
    throw problem(
      422,
      'The plan cannot go live yet; see the list.',
      stops.map(s => ({ field: s.place, message: s.message })),
    )
  if (view.revision !== revision) throw planChangedMeanwhile()
  const number = await sql.begin(tx => publishPlan(tx, revision, member.id, new Date()))
  if (number === null) throw problem(409, 'This plan is live as it stands, or was changed a moment ago. Load it again.')
  await changed({ plan: true })
  return planView(sql, await cache.ruleset())
})
