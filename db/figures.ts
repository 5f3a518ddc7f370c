import { summed, type Delta, type Figure } from '#core/figures/deltas'
import type { Facets } from '#core/figures/facets'
import type { Db, Sql, Tx } from '#db/client'
import { COLUMNS, type StreamEvent } from '#db/stream'

/** Figures that are counted as things happen, and what has happened since they were last counted. */

/** How leads were counted before some events of theirs, in the order of the events; null: not at all. */
export async function facetsBefore(tx: Db, events: StreamEvent[]): Promise<(Facets | null)[]> {
  if (!events.length) return []
  const rows = events.map((e, n) => ({ n, lead: e.lead, version: e.version }))
  const found = await tx<{ n: number; facets: Facets | null }[]>`
    select r.n, (select p.facets from lead_event p where p.lead_id = r.lead and p.version < r.version and p.facets is not null order by p.version desc limit 1) as facets
    from jsonb_to_recordset(${rows as never}::jsonb) as r(n int, lead uuid, version int) order by r.n`
  return found.map(r => r.facets)
}

/** Adds to figures what events changed of them. */
export async function addFigures(tx: Tx, deltas: Delta[]): Promise<void> {
  if (!deltas.length) return
  const rows = deltas.map(d => ({ ...d, at: new Date(d.at).toISOString() })) as never
  await tx`insert into rollup as f (figure, at, key, n) select figure, at, key, n from jsonb_to_recordset(${rows}::jsonb) as r(figure text, at timestamptz, key text[], n bigint) order by 1, 2, 3
    on conflict (figure, at, key) do update set n = f.n + excluded.n`
  await tx`delete from rollup f using jsonb_to_recordset(${rows}::jsonb) as r(figure text, at timestamptz, key text[]) where f.figure = r.figure and f.at = r.at and f.key = r.key and f.n = 0`
}

/** Tables of what is counted as things happen. */
export type RollUpTable = 'rollup' | 'result_count'

/** Begins to count anew where it was counted for something else. */
export async function beginAnew(tx: Tx, consumer: string, madeFor: string, table: RollUpTable): Promise<boolean> {
  const begun = await tx`update consumer set made_for = ${madeFor}, xid = '0', seq = 0 where name = ${consumer} and made_for <> ${madeFor}`
  if (begun.count) await tx`delete from ${tx(table)}`
  return begun.count > 0
}

/** For what it is counted; undefined before they are. */
export const madeForOf = async (tx: Db, consumer: string): Promise<string | undefined> =>
  (await tx<{ madeFor: string }[]>`select made_for from consumer where name = ${consumer}`)[0]?.madeFor

/** All events behind a consumer's place that can be seen, settled or not: what the figures do not count yet. */
export const eventsSince = (tx: Db, consumer: string, most: number) => tx<StreamEvent[]>`
  select e.* from consumer c cross join lateral (
    select ${COLUMNS(tx)} from lead_event e where (e.xid, e.seq) > (c.xid, c.seq) order by e.xid, e.seq limit ${most}) e
  where c.name = ${consumer}`

/** A figure since a moment, bucket by bucket (`apart`) or in all; of its key only some parts (their places, from 0), all of them by themselves. */
export interface Wanted {
  figure: Figure
  since?: number
  apart?: boolean
  parts?: number[]
}
/** So many under a key; `at` in milliseconds since 1970, 0 where it is the sum of all buckets. */
export type Sum = Omit<Delta, 'figure'>

/** Figures as far as they are counted, in the order in which they are wanted. */
export async function countedFigures(tx: Db, wanted: Wanted[]): Promise<Sum[][]> {
  return await Promise.all(
    wanted.map(
      ({ figure, since = 0, apart = false, parts }) => tx<{ at: number; key: string[]; n: number }[]>`
    select ${apart ? tx`(extract(epoch from at) * 1000)::float8` : tx`0::float8`} as at, ${parts ? tx.unsafe(`array[${parts.map(part => `key[${part + 1}]`).join()}]`) : tx`key`} as key, sum(n)::float8 as n
    from rollup where figure = ${figure} and at >= ${new Date(since)} group by 1, 2`,
    ),
  )
}

/** Figures with what is not counted yet. */
export const withPending = (counted: Sum[][], pending: Delta[], wanted: Wanted[]): Sum[][] =>
  wanted.map(({ figure, since = 0, apart = false, parts }, i) =>
    summed([
      ...counted[i]!.map(s => ({ figure, ...s })),
      ...pending.flatMap(d =>
        d.figure === figure && d.at >= since ? { ...d, at: apart ? d.at : 0, key: parts ? parts.map(part => d.key[part]!) : d.key } : [],
      ),
    ]),
  )

/** Reads in one snapshot: what it sees, it sees of one moment. */
export const inSnapshot = <T>(sql: Sql, work: (tx: Tx) => Promise<T>): Promise<T> =>
  sql.begin('isolation level repeatable read read only', async tx => ({ result: await work(tx) })).then(({ result }) => result as T)
