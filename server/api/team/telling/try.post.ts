import { defineEventHandler } from 'h3'
import { ChatFailed, chatText, postToChat } from '#server/deliveries/chat'
import { applicationContext } from '#server/application-context'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { ownAddress } from '#server/settings'

/** Sends a word to one's own chat, to see whether it arrives. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const { members } = await applicationContext().cache.ruleset()
  const chat = members.get(member.id)?.telling?.chat ?? null
  if (chat === null) throw problem(422, 'You have set no chat yet.', [{ field: 'chat', message: 'Set its address first.' }])
  try {
    return {
      answer: await postToChat(chat, chatText({ subject: 'Cavlin can reach this chat.', body: '', leadId: null }, ownAddress()), newId()),
    }
  } catch (error) {
    if (error instanceof ChatFailed) throw problem(422, `It did not arrive: ${error.message}`, [{ field: 'chat', message: error.message }])
    throw error
  }
})
