import { defineEventHandler } from 'h3'
import { stopPlanRun } from '#db/plan-run'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { planRunView } from '#server/routing/plan-run-view'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => {
  await memberOf(event, 'edit plan')
  const { sql, cache } = applicationContext()
  if (!(await stopPlanRun(sql))) throw problem(409, 'It has ended already.')
  await say(sql, { dryRun: true })
  return planRunView(sql, await cache.ruleset(), Date.now())
})
