import { defineEventHandler, getQuery } from 'h3'
import { HEAPS, type ConversationsView, type Heap } from '#core/chat/team'
import { conversationRows, conversationsOfLead, heapCounts } from '#db/conversations'
import { applicationContext } from '#server/application-context'
import { itemOf, presenceOf } from '#server/chat/team'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

const MOST = 100

/** The conversations of a heap, as whoever asks sees them: `?heap=mine`; or all of a lead: `?lead=ID`. */
export default defineEventHandler(async (event): Promise<ConversationsView> => {
  const member = await memberOf(event)
  const { heap = 'nobody', lead } = getQuery(event)
  if (!HEAPS.includes(heap as Heap)) throw problem(422, `There is no such heap. Take one of ${HEAPS.join(', ')}.`)
  if (lead !== undefined && !/^[0-9a-f-]{36}$/i.test(String(lead))) throw problem(422, '“lead” is the id of a lead.')
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const [heaps, rows, presence] = await Promise.all([
    heapCounts(sql, member.id),
    lead === undefined ? conversationRows(sql, heap as Heap, member.id, MOST) : conversationsOfLead(sql, String(lead)),
    presenceOf(sql, ruleset, Date.now()),
  ])
  return { heaps, rows: rows.map(r => itemOf(r, ruleset.plan.lanes)), presence }
})
