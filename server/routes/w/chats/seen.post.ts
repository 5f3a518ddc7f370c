import { defineEventHandler, sendNoContent } from 'h3'
import { noteSeen } from '#db/conversations'
import { heldBy, Reading } from '#server/chat/wire'
import { database } from '#server/database'
import { limit } from '#server/limits'
import { say } from '#server/live/say'
import { readChecked } from '#server/wire'

/** Notes up to where a visitor has read, and that they are typing. */
export default defineEventHandler(async event => {
  await limit(event, 'messages')
  const { upTo, typing, ...holder } = await readChecked(event, Reading)
  const c = await heldBy(holder)
  const news = await noteSeen(database(), c.id, 'visitor', upTo)
  if (news || typing)
    await say(database(), { ...(news && { conversations: [c.id] }), ...(typing && { writing: [{ conversation: c.id, member: null }] }) })
  return sendNoContent(event)
})
