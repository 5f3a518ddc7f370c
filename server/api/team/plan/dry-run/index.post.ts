import { IsIn, IsInt, IsNumber, Max, Min } from 'class-validator'
import { randomUUID } from 'node:crypto'
import { defineEventHandler, setResponseStatus } from 'h3'
import { beginPlanRun } from '#db/plan-run'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { planChangedMeanwhile, planView } from '#server/routing/plan'
import { planRunView } from '#server/routing/plan-run-view'
import { memberOf } from '#server/session'
import { MOST_REVISION, readChecked } from '#server/wire'

class RunBody {
  /** Of the working copy, as it is seen. */
  @IsInt() @Min(0) @Max(MOST_REVISION) revision!: number
  @IsIn([30, 90], { message: 'Choose 30 or 90 days' }) days!: number
  /** So many times as fast as they were. */
  @IsNumber() @Min(0.1) @Max(10) speed!: number
}

/** Sends the leads of the last days through the working copy, beside the plan that is live. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit plan')
  const { revision, days, speed } = await readChecked(event, RunBody)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const plan = await planView(sql, ruleset)
  if (plan.revision !== revision) throw planChangedMeanwhile()
  const run = { id: randomUUID(), at: new Date(), revision, definition: plan.workingCopy, edition: plan.live?.number ?? 0, days, speed }
  if (!(await beginPlanRun(sql, run, member.id))) throw problem(409, 'A dry run is under way. Wait for it, or stop it.')
  await say(sql, { jobs: true, dryRun: true })
  setResponseStatus(event, 202)
  return planRunView(sql, ruleset, Date.now())
})
