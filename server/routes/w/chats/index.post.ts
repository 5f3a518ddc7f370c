import { defineEventHandler, setResponseStatus } from 'h3'
import { beginConversation } from '#server/chat/visitor'
import { Beginning } from '#server/chat/wire'
import { limit } from '#server/limits'
import { readChecked } from '#server/wire'

/** Begins a conversation. What comes back is all that the browser needs to go on with it. */
export default defineEventHandler(async event => {
  await limit(event, 'messages')
  const wish = await readChecked(event, Beginning)
  const begun = await beginConversation(event, wish)
  setResponseStatus(event, 201)
  return begun
})
