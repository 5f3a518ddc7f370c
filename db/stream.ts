import type { LeadEvent } from '#core/events/event'
import type { Db, Sql, Tx } from '#db/client'

/**
 * The stream of what happened to leads, for those who follow it. Its order is that of the transactions that wrote it. Transactions
 * end in any order: so what is read ends where the oldest that still runs begins; what is below that never changes any more.
 */

/** A place in the stream: behind this event. */
export interface Place {
  xid: string
  seq: string
}
export type StreamEvent = LeadEvent & Place

export const COLUMNS = (tx: Db) =>
  tx`e.lead_id as lead, e.version, (extract(epoch from e.at) * 1000)::float8 as at, e.cause, e.actor_id as actor, e.changes, e.fit, e.interest, e.card, e.facets, e.xid::text as xid, e.seq::text as seq`

/** Takes hold of a consumer's place until the transaction ends: one at a time follows for it. It begins at the beginning. */
export async function lockPlace(tx: Tx, consumer: string): Promise<Place> {
  await tx`insert into consumer (name) values (${consumer}) on conflict do nothing`
  return (await tx<Place[]>`select xid::text, seq::text from consumer where name = ${consumer} for update`)[0]!
}

export const keepPlace = (tx: Tx, consumer: string, { xid, seq }: Place) =>
  tx`update consumer set xid = ${xid}::xid8, seq = ${seq}::bigint, at = now() where name = ${consumer}`

/** The next events behind a place, as far as they are settled. */
export const eventsBehind = (tx: Db, { xid, seq }: Place, most: number) => tx<StreamEvent[]>`
  select ${COLUMNS(tx)} from lead_event e
  where (e.xid, e.seq) > (${xid}::xid8, ${seq}::bigint) and e.xid < pg_snapshot_xmin(pg_current_snapshot())
  order by e.xid, e.seq limit ${most}`

/**
 * Of some leads the events that come before one of theirs by version, and behind it in the stream: a transaction that began
 * before another, and got to the lead after it, turns two round. They are settled, for the later one waited for them.
 */
export const turnedRound = (tx: Db, events: StreamEvent[]) => tx<(StreamEvent & { before: number })[]>`
  select ${COLUMNS(tx)}, r.version as before from jsonb_to_recordset(${events.map(e => ({ lead: e.lead, version: e.version, xid: e.xid, seq: e.seq })) as never}::jsonb)
      as r(lead uuid, version int, xid text, seq bigint)
    join lead_event e on e.lead_id = r.lead and e.version < r.version and (e.xid, e.seq) > (r.xid::xid8, r.seq) order by e.lead_id, e.version`

/** Which of these a consumer has taken before it got to them. */
export async function takenAhead(tx: Tx, consumer: string, events: StreamEvent[]): Promise<Set<string>> {
  const rows = await tx<{ leadId: string; version: number }[]>`
    select a.lead_id, a.version from consumer_ahead a join jsonb_to_recordset(${events.map(e => ({ lead: e.lead, version: e.version })) as never}::jsonb) as r(lead uuid, version int)
      on a.lead_id = r.lead and a.version = r.version where a.consumer = ${consumer}`
  return new Set(rows.map(r => `${r.leadId} ${r.version}`))
}

/** Remembers what was taken ahead, and forgets what the place has passed. */
export async function keepAhead(tx: Tx, consumer: string, ahead: StreamEvent[], passed: StreamEvent[]): Promise<void> {
  const rows = (events: StreamEvent[]) => events.map(e => ({ lead: e.lead, version: e.version })) as never
  if (ahead.length)
    await tx`insert into consumer_ahead (consumer, lead_id, version) select ${consumer}, r.lead, r.version from jsonb_to_recordset(${rows(ahead)}::jsonb) as r(lead uuid, version int)`
  if (passed.length)
    await tx`delete from consumer_ahead a using jsonb_to_recordset(${rows(passed)}::jsonb) as r(lead uuid, version int)
    where a.consumer = ${consumer} and a.lead_id = r.lead and a.version = r.version`
}

/** A transaction that has run for long. `holds`: followers wait for it to end. */
export interface LongTransaction {
  holds: boolean
  seconds: number
  database: string | null
  program: string
  user: string | null
}
/** A transaction that writes for longer than this many seconds is said. */
export const LONG_S = 30
/**
 * Transactions that have run for longer than so many seconds, in whichever database of the cluster, the longest first. One that
 * writes holds the stream for all who follow it; one that only reads, like a dump, holds nothing but keeps what is deleted.
 */
export const longTransactions = (db: Db, seconds: number) => db<LongTransaction[]>`
  select backend_xid is not null as holds, extract(epoch from now() - xact_start)::int as seconds, datname as database, application_name as program, usename as user
  from pg_stat_activity where xact_start < now() - ${seconds} * interval '1 second' and pid <> pg_backend_pid() and (backend_xid is not null or backend_xmin is not null)
    and backend_type = 'client backend' order by xact_start`

/**
 * Numbers the stream anew where its numbers are another cluster's: in a database that was restored elsewhere they lie in the
 * future, and nobody would ever get to them. Followers go on behind what they had taken. To be called before anybody writes.
 * @returns whether it was so
 */
export const settleRestored = (sql: Sql): Promise<boolean> =>
  sql.begin(async tx => {
    const [found] = await tx<
      { foreign: boolean }[]
    >`select exists (select from lead_event where xid >= pg_snapshot_xmax(pg_current_snapshot())) as foreign`
    if (!found!.foreign) return false
    await tx`lock table lead_event, consumer in exclusive mode`
    await tx`update consumer c set xid = '3', seq = (select count(*) from lead_event e where (e.xid, e.seq) <= (c.xid, c.seq))`
    await tx`update lead_event e set xid = '3', seq = o.n from (select lead_id, version, row_number() over (order by xid, seq) as n from lead_event) o
    where e.lead_id = o.lead_id and e.version = o.version`
    await tx`select setval(pg_get_serial_sequence('lead_event', 'seq'), (select max(seq) from lead_event))`
    return true
  })
