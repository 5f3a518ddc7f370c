import { deltasOf, summed, type Delta } from '#core/figures/deltas'
import type { Facets } from '#core/figures/facets'
import type { Db, Sql, Tx } from '#db/client'
import {
  addFigures,
  beginAnew,
  countedFigures,
  eventsSince,
  facetsBefore,
  inSnapshot,
  madeForOf,
  withPending,
  type Sum,
  type Wanted,
} from '#db/figures'
import { lockPlace, type StreamEvent } from '#db/stream'
import { follow } from '#server/consumers/follow'

/** Counts the house's figures as things happen: a follower of the stream, which adds up and needs no order. */
const NAME = 'figures'
/** Raised when figures are defined otherwise: they are counted anew then. */
const DEFINED = 1
const madeFor = (zone: string) => `${DEFINED} ${zone}`

/** What events change of figures. */
async function changes(tx: Db, events: StreamEvent[], zone: string): Promise<Delta[]> {
  const before = await facetsBefore(tx, events)
  return summed(events.flatMap((event, i) => deltasOf(event, before[i]!, after(event, before[i]!), zone)))
}

/** An event that does not say how the lead is counted since leaves it as it was, but for the last one. */
const after = (event: StreamEvent, before: Facets | null): Facets | null => event.facets ?? (event.cause === 'erased' ? null : before)

/** Counts what happened since. @returns how many events it took */
export async function countFigures(sql: Sql, zone: string, most = 1000): Promise<number> {
  await sql.begin(async tx => {
    await lockPlace(tx, NAME)
    await beginAnew(tx, NAME, madeFor(zone))
  })
  return await follow(
    sql,
    { name: NAME, inOrder: false, take: async (tx, events) => await addFigures(tx, await changes(tx, events, zone)) },
    most,
  )
}

/** So many events are counted while somebody waits for a figure. More than that are behind after a rebuild, or a transaction that does not end. */
const MOST_PENDING = 20_000

/**
 * Figures with all that has happened, counted or not, in the order in which they are wanted, and whatever else belongs to the same
 * moment. `behind`: too much has happened that is not counted yet; they are those of some time ago.
 */
export async function readFigures<T>(
  sql: Sql,
  zone: string,
  wanted: Wanted[],
  more: (tx: Tx) => Promise<T>,
): Promise<{ sums: Sum[][]; behind: boolean; more: T }> {
  return await inSnapshot(sql, async tx => {
    const [countedFor, events, counted, rest] = await Promise.all([
      madeForOf(tx, NAME),
      eventsSince(tx, NAME, MOST_PENDING + 1),
      countedFigures(tx, wanted),
      more(tx),
    ])
    const behind = countedFor !== madeFor(zone) || events.length > MOST_PENDING
    const pending = behind ? [] : await changes(tx, events, zone)
    return { sums: withPending(counted, pending, wanted), behind, more: rest }
  })
}
