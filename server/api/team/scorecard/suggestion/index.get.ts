import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { suggestionView } from '#server/scoring/suggestion'
import { memberOf } from '#server/session'

/** The scorecard that was learned last, or is being learned; null before there was one. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  return { suggestion: await suggestionView(sql, await cache.ruleset()) }
})
