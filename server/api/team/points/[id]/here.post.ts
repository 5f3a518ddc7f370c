import { defineEventHandler, sendNoContent } from 'h3'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Tells the others who have this point open that one more has. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const point = idFrom(event)
  await say(database(), { presence: [point], here: [{ point, member: member.id }] })
  return sendNoContent(event)
})
