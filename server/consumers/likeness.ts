import { likeness, likenessKeys } from '#core/identity/likeness'
import type { EventName } from '#core/events/registry'
import type { Sql, Tx } from '#db/client'
import { alike, keepLikenesses, keepPairs, namedLeads, type Pair } from '#db/likeness'
import type { StreamEvent } from '#db/stream'
import { follow } from '#server/consumers/follow'

/** What may change by what somebody is found to be here twice. */
const TELLS: ReadonlySet<EventName> = new Set([
  'created',
  'brought_in',
  'taken_back',
  'typed',
  'judged',
  'confirmed',
  'merged',
  'split',
  'entry',
  'corrected',
])
const tells = ({ changes }: StreamEvent) => Object.keys(changes).some(kind => TELLS.has(kind as EventName))

/** So many events are taken at once. */
export const MOST_ALIKE = 500

/**
 * Looks for people who are here twice among those to whom something happened.
 * @param phones the properties that hold telephone numbers
 * @returns how many events it took, and whether pairs came or went
 */
export async function findAlike(sql: Sql, phones: string[]): Promise<{ took: number; isNew: boolean }> {
  let isNew = false
  const take = async (tx: Tx, events: StreamEvent[]) => {
    const leads = [...new Set(events.filter(tells).map(e => e.lead))]
    if (leads.length) isNew = (await lookFor(tx, leads, phones)) || isNew
  }
  const took = await follow(sql, { name: 'likeness', inOrder: false, take }, MOST_ALIKE)
  return { took, isNew }
}

async function lookFor(tx: Tx, leads: string[], phones: string[]): Promise<boolean> {
  const rows = await namedLeads(tx, leads)
  await keepLikenesses(
    tx,
    rows.map(row => ({ lead: row.id, ...likenessKeys(row, phones) })),
  )
  const pairs = new Map<string, Pair>()
  for (const { a, b, addressA, addressB, ...compared } of await alike(
    tx,
    rows.map(r => r.id),
  )) {
    const found = likeness({ ...compared, addresses: addressA && addressB ? [addressA, addressB] : null })
    if (found) pairs.set(`${a} ${b}`, { a, b, ...found })
  }
  return await keepPairs(tx, leads, [...pairs.values()], new Date())
}
