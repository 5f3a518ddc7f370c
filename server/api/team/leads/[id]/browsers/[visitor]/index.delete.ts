import { defineEventHandler, sendNoContent } from 'h3'
import { applicationContext } from '#server/application-context'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { part } from '#server/trail/take'
import { idFrom } from '#server/wire'

/** These visits were somebody else's: takes a browser from a lead. */
export default defineEventHandler(async event => {
  await memberOf(event, 'work leads')
  const { sql, cache } = applicationContext()
  const [lead, visitor, ruleset] = [idFrom(event), idFrom(event, 'visitor'), await cache.ruleset()]
  if (!(await sql.begin(tx => part(tx, ruleset, lead, visitor, new Date())))) throw problem(404, 'This browser is not one of theirs.')
  await say(sql, { leads: [lead], trail: true })
  return sendNoContent(event)
})
