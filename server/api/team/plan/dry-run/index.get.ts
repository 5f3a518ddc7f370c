import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { planRunView } from '#server/routing/plan-run-view'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  return planRunView(sql, await cache.ruleset(), Date.now())
})
