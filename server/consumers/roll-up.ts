import type { Db, Sql, Tx } from '#db/client'
import { beginAnew, eventsSince, inSnapshot, madeForOf, type RollUpTable } from '#db/figures'
import { lockPlace, type StreamEvent } from '#db/stream'
import { follow } from '#server/consumers/follow'

/** Something that is counted as things happen: a follower of the stream, which adds up and needs no order. */
export interface RollUp<Delta> {
  /** Of the consumer. */
  name: string
  /** Where it is kept. */
  table: RollUpTable
  /** Raised when it is defined otherwise: it is counted anew then. */
  defined: number
  /** What events change of it. @param zone where the house has its days */
  changes: (tx: Db, events: StreamEvent[], zone: string) => Promise<Delta[]>
  add: (tx: Tx, deltas: Delta[]) => Promise<void>
  /** It is counted from the beginning: so is what is counted beside the stream. */
  anew?: (tx: Tx) => Promise<void>
}

/** So many events are counted while somebody waits. More than that are behind after a rebuild, or a transaction that does not end. */
const MOST_PENDING = 20_000
const madeFor = ({ defined }: Pick<RollUp<never>, 'defined'>, zone: string) => `${defined} ${zone}`

/** Counts what happened since, from the beginning where it was counted for something else. @returns how many events it took */
export async function countUp<Delta>(sql: Sql, rollUp: RollUp<Delta>, zone: string, most = 1000): Promise<number> {
  const { name, table, changes, add, anew } = rollUp
  await sql.begin(async tx => {
    await lockPlace(tx, name)
    if (await beginAnew(tx, name, madeFor(rollUp, zone), table)) await anew?.(tx)
  })
  return await follow(sql, { name, inOrder: false, take: async (tx, events) => await add(tx, await changes(tx, events, zone)) }, most)
}

/**
 * Reads in one snapshot what is counted, and what has happened that is not yet: together they are exact in spite of the lag.
 * `behind`: too much has happened; what is counted is of some time ago.
 */
export async function readCounted<Delta, T>(
  sql: Sql,
  rollUp: RollUp<Delta>,
  zone: string,
  read: (tx: Tx) => Promise<T>,
): Promise<{ read: T; pending: Delta[]; behind: boolean }> {
  return await inSnapshot(sql, async tx => {
    const [countedFor, events, result] = await Promise.all([
      madeForOf(tx, rollUp.name),
      eventsSince(tx, rollUp.name, MOST_PENDING + 1),
      read(tx),
    ])
    const behind = countedFor !== madeFor(rollUp, zone) || events.length > MOST_PENDING
    return { read: result, pending: behind ? [] : await rollUp.changes(tx, events, zone), behind }
  })
}
