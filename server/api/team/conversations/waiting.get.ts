import { defineEventHandler } from 'h3'
import type { ConversationItem } from '#core/chat/team'
import { may } from '#core/roles'
import { waitingFor } from '#db/conversations'
import { itemOf } from '#server/chat/team'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** Conversations in which somebody waits for whoever asks: nobody's yet, handed to them, or with something new in them. */
export default defineEventHandler(async (event): Promise<{ waiting: ConversationItem[] }> => {
  const member = await memberOf(event)
  return { waiting: may(member.role, 'work leads') ? (await waitingFor(database(), member.id, 20)).map(itemOf) : [] }
})
