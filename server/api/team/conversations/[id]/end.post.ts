import { defineEventHandler } from 'h3'
import { endBy } from '#server/chat/member'
import { conversationView } from '#server/chat/team'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Ends a conversation; the visitor is asked how it was. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const id = idFrom(event)
  await endBy(id, member)
  return conversationView(id)
})
