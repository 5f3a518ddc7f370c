import { defineEventHandler } from 'h3'
import type { ConversationItem } from '#core/chat/team'
import { poolsWithout } from '#core/chat/pools'
import { may } from '#core/roles'
import { waitingFor } from '#db/conversations'
import { applicationContext } from '#server/application-context'
import { itemOf } from '#server/chat/team'
import { memberOf } from '#server/session'

/** Conversations in which somebody waits for whoever asks: nobody's yet, handed to them, or with something new in them. */
export default defineEventHandler(async (event): Promise<{ waiting: ConversationItem[] }> => {
  const member = await memberOf(event)
  if (!may(member.role, 'work leads')) return { waiting: [] }
  const { sql, cache } = applicationContext()
  const { plan } = await cache.ruleset()
  return { waiting: (await waitingFor(sql, member.id, poolsWithout(plan.lanes, member.id), 20)).map(r => itemOf(r, plan.lanes)) }
})
