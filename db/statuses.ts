import type { Status } from '#core/vocabulary'
import type { Db, Tx } from '#db/client'

export const lockStatuses = (tx: Tx) => tx`lock table status in share row exclusive mode`

/** How many leads have each status. */
export const leadsByStatus = async (db: Db): Promise<Map<string, number>> =>
  new Map(
    (await db<{ status: string; leads: number }[]>`select status, count(*)::int as leads from lead group by 1`).map(r => [
      r.status,
      r.leads,
    ]),
  )

/**
 * Writes all statuses, in their order. One that is not among them is given up: what happened keeps its name, and its leads go to another.
 * @param moves where the leads of each go that is given up
 */
export async function saveStatuses(tx: Tx, statuses: Status[], moves: Record<string, string>): Promise<void> {
  const rows = statuses.map(({ key, name, rank, stage, asks, reasons }) => ({ key, name, rank, stage, asks, reasons }))
  // Each place is one status's, and one is the first: they step aside before they take their new ones.
  await tx`update status set rank = -1 - rank where joined_into is null`
  await tx`update status set stage = 'open' where stage = 'first'`
  await tx`insert into status (key, name, rank, stage, asks, reasons)
    select key, name, rank, stage, asks, reasons from jsonb_to_recordset(${rows as never}::jsonb) as r(key text, name text, rank int, stage text, asks text[], reasons text[])
    on conflict (key) do update set name = excluded.name, rank = excluded.rank, stage = excluded.stage, asks = excluded.asks, reasons = excluded.reasons`
  for (const [from, into] of Object.entries(moves)) {
    await tx`update status set joined_into = ${into} where joined_into = ${from}`
    await tx`update status set joined_into = ${into}, rank = -1000 - abs(rank) - 100 * (select count(*) from status where joined_into is not null)::int where key = ${from}`
  }
}

/** Some leads whose status was given up, and where they go. Asked for again and again: looked up status by status, by their index. */
export const leadsOfGone = (db: Db, most: number) => db<{ id: string; to: string }[]>`
  select l.id, s.joined_into as to from status s cross join lateral (select id from lead where status = s.key order by id limit ${most}) l
  where s.joined_into is not null limit ${most}`
