import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { whyUnderBoth } from '#server/scoring/dry-run-view'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Why a lead stands where it stands, by the card that is live and by the one that was tried. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  return whyUnderBoth(sql, await cache.ruleset(), idFrom(event))
})
