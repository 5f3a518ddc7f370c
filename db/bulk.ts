import type { Db, Tx } from '#db/client'

/** Something that is done to many leads at once. */
export interface BulkRow {
  id: string
  byMember: string
  at: Date
  act: unknown
  state: 'working' | 'done' | 'stopped' | 'undoing' | 'undone'
  total: number
  done: number
  skipped: number
  undone: number
}

export async function addBulk(tx: Tx, { id, by, act, leads }: { id: string; by: string; act: object; leads: string[] }): Promise<void> {
  await tx`insert into bulk_act (id, by_member, act) values (${id}, ${by}, ${act as never})`
  await tx`insert into bulk_act_lead (bulk_id, lead_id) select ${id}, l from unnest(${leads}::uuid[]) l on conflict do nothing`
}
export const bulkById = async (db: Db, id: string): Promise<BulkRow | undefined> =>
  (
    await db<
      BulkRow[]
    >`select b.id, b.by_member, b.at, b.act, b.state, count(*)::int as total, count(*) filter (where l.version is not null or l.skipped is not null)::int as done,
    count(l.skipped)::int as skipped, count(*) filter (where l.undone)::int as undone from bulk_act b left join bulk_act_lead l on l.bulk_id = b.id where b.id = ${id} group by b.id`
  )[0]

/** The next that is to be worked on, locked: two workers do not take the same. */
export const nextBulk = async (tx: Tx): Promise<Pick<BulkRow, 'id' | 'byMember' | 'act' | 'state'> | undefined> =>
  (
    await tx<
      BulkRow[]
    >`select id, by_member, act, state from bulk_act where state in ('working', 'undoing') order by at limit 1 for update skip locked`
  )[0]
/** Leads of it that are still to come, in the order in which leads are locked. */
export const bulkPending = async (tx: Tx, id: string, most: number): Promise<string[]> =>
  (
    await tx<
      { leadId: string }[]
    >`select lead_id from bulk_act_lead where bulk_id = ${id} and version is null and skipped is null order by lead_id limit ${most}`
  ).map(r => r.leadId)
/** What came of some of its leads. */
export const bulkCame = (tx: Tx, id: string, rows: { lead: string; version: number | null; skipped: string | null }[]) => tx`
  update bulk_act_lead l set version = r.version, skipped = r.skipped from jsonb_to_recordset(${rows as never}::jsonb) as r(lead uuid, version int, skipped text) where l.bulk_id = ${id} and l.lead_id = r.lead`
export const setBulkState = (db: Db, id: string, state: BulkRow['state']) => db`update bulk_act set state = ${state} where id = ${id}`
/** Those that are still to be taken back. */
export const bulkToUndo = (tx: Tx, id: string, most: number) => tx<{ lead: string; version: number }[]>`
  select lead_id as lead, version from bulk_act_lead where bulk_id = ${id} and version is not null and not undone order by lead_id limit ${most}`
export const bulkUndone = (tx: Tx, id: string, leads: string[]) =>
  tx`update bulk_act_lead set undone = true where bulk_id = ${id} and lead_id = any(${leads}::uuid[])`
/** What some events say, to take them back. */
export const actsToUndo = (tx: Tx, rows: { lead: string; version: number }[]) => tx<
  { lead: string; version: number; cause: string; undo: unknown; status: string | null }[]
>`
  select v.lead_id as lead, v.version, v.cause, v.undo, v.changes->'status'->>'to' as status from jsonb_to_recordset(${rows as never}::jsonb) as r(lead uuid, version int)
  join lead_event v on v.lead_id = r.lead and v.version = r.version where v.undo is not null and v.undone_at is null`
export const forgetBulk = (db: Db, before: Date) => db`delete from bulk_act where at < ${before} and state in ('done', 'stopped', 'undone')`
