import { defineEventHandler } from 'h3'
import { conversationView } from '#server/chat/team'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

export default defineEventHandler(async event => {
  await memberOf(event)
  return conversationView(idFrom(event))
})
