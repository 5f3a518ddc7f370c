import { defineEventHandler, sendNoContent } from 'h3'
import { applicationContext } from '#server/application-context'
import { limit } from '#server/limits'
import { say } from '#server/live/say'
import { browserFrom } from '#server/trail/browser'
import { eraseVisitor } from '#server/trail/take'

/** A visitor changed their mind: what their browser did is erased. What they sent themselves stays. Only their browser knows the address. */
export default defineEventHandler(async event => {
  await limit(event, 'views')
  const { sql, cache } = applicationContext()
  const [id, ruleset] = [browserFrom(event), await cache.ruleset()]
  const leads = await sql.begin(tx => eraseVisitor(tx, ruleset, id, Date.now()))
  await say(sql, { leads, trail: true })
  return sendNoContent(event)
})
