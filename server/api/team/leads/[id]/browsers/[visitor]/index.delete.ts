import { defineEventHandler, sendNoContent } from 'h3'
import { theOffice } from '#server/capture/office'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { part } from '#server/trail/take'
import { idFrom } from '#server/wire'

/** These visits were somebody else's: takes a browser from a lead. */
export default defineEventHandler(async (event) => {
  await memberOf(event, 'work leads')
  const { sql, cache } = theOffice()
  const [lead, visitor, standing] = [idFrom(event), idFrom(event, 'visitor'), await cache.standing()]
  if (!await sql.begin(tx => part(tx, standing, lead, visitor, new Date()))) throw problem(404, 'This browser is not one of theirs.')
  await say(sql, { leads: [lead], trail: true })
  return sendNoContent(event)
})
