import type { Case } from '#core/capture/case'
import type { Db, Statement, Tx } from '#db/client'

export interface List { id: string; name: string; leads: number }

/** All lists by name, with how many people are on each. */
export const lists = (db: Db) => db<List[]>`
  select l.id, l.name, (select count(*) from list_member m where m.list_id = l.id) as leads from list l where removed_at is null order by lower(l.name)`

/** @returns false when another has this name */
export async function addList(db: Db, id: string, name: string): Promise<boolean> {
  return (await db`insert into list (id, name) values (${id}, ${name}) on conflict (lower(name)) where removed_at is null do nothing`).count === 1
}

/** @returns whether there is such a list, and no other of that name */
export async function changeList(db: Db, id: string, change: { name: string; removed: boolean }, at: Date): Promise<'done' | 'taken' | 'missing'> {
  const [taken] = change.removed ? [] : await db`select 1 from list where lower(name) = lower(${change.name}) and removed_at is null and id <> ${id}`
  if (taken) return 'taken'
  return (await db`update list set name = ${change.name}, removed_at = ${change.removed ? at : null} where id = ${id}`).count ? 'done' : 'missing'
}

/** Puts leads on a list. */
export const addToList = (db: Db, list: string, leads: string[], at: Date) => db`
  insert into list_member (list_id, lead_id, added_at) select ${list}, id, ${at} from unnest(${leads}::uuid[]) as r(id) on conflict do nothing`

export async function listsOf(db: Db, lead: string): Promise<string[]> {
  return (await db<{ listId: string }[]>`select list_id from list_member m join list l on l.id = m.list_id and l.removed_at is null where lead_id = ${lead} order by added_at`).map(r => r.listId)
}

/** Puts a lead on exactly these lists. Lists that do not exist are passed over. */
export async function setLists(tx: Tx, lead: string, ids: string[], at: Date): Promise<void> {
  await tx`delete from list_member where lead_id = ${lead} and list_id <> all(${ids}::uuid[])`
  await tx`insert into list_member (list_id, lead_id, added_at) select id, ${lead}, ${at} from list where id = any(${ids}::uuid[]) and removed_at is null on conflict do nothing`
}

/** Puts the people of entries on the lists that their points name. */
export function putOnLists(tx: Tx, cases: Case[]): Statement[] {
  const rows = cases.flatMap(c => c.intake.edition.definition.afterwards.lists.map(list => ({ list, lead: c.lead.id, at: new Date(c.intake.at).toISOString() })))
  return rows.length ? [tx`insert into list_member (list_id, lead_id, added_at)
    select distinct on (r.list, r.lead) r.list, r.lead, r.at from jsonb_to_recordset(${rows as never}::jsonb) as r(list uuid, lead uuid, at timestamptz) join list l on l.id = r.list and l.removed_at is null
    on conflict do nothing`] : []
}
