import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { scorecardView } from '#server/scoring/scorecard'
import { memberOf } from '#server/session'

/** The scorecard: its working copy with what is wrong in it, and its editions. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  return scorecardView(sql, await cache.ruleset())
})
