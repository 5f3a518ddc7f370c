import { defineEventHandler } from 'h3'
import { visitorSays } from '#server/chat/visitor'
import { heldBy, Saying } from '#server/chat/wire'
import { limit, limitConversation } from '#server/limits'
import { readChecked } from '#server/wire'

/** Takes what a visitor says; it is kept before it is answered. */
export default defineEventHandler(async event => {
  await limit(event, 'messages')
  const said = await readChecked(event, Saying)
  const c = await heldBy(said)
  await limitConversation(event, c.id)
  return visitorSays(event, c, said)
})
