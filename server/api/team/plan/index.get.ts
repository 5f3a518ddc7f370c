import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { planView } from '#server/routing/plan'
import { memberOf } from '#server/session'

/** The routing plan: its working copy with what is wrong in it, and its editions. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  return planView(sql, await cache.ruleset())
})
