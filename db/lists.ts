import type { Db } from '#db/client'

export interface List {
  id: string
  name: string
}

/** All lists by name. */
export const lists = (db: Db) => db<List[]>`select id, name from list where removed_at is null order by lower(name)`

/** @returns false when another has this name */
export async function addList(db: Db, id: string, name: string): Promise<boolean> {
  return (
    (await db`insert into list (id, name) values (${id}, ${name}) on conflict (lower(name)) where removed_at is null do nothing`).count ===
    1
  )
}

/** @returns whether there is such a list, and no other of that name */
export async function changeList(
  db: Db,
  id: string,
  change: { name: string; removed: boolean },
  at: Date,
): Promise<'done' | 'taken' | 'missing'> {
  const [taken] = change.removed
    ? []
    : await db`select 1 from list where lower(name) = lower(${change.name}) and removed_at is null and id <> ${id}`
  if (taken) return 'taken'
  return (await db`update list set name = ${change.name}, removed_at = ${change.removed ? at : null} where id = ${id}`).count
    ? 'done'
    : 'missing'
}

export async function listsOf(db: Db, lead: string): Promise<string[]> {
  return (
    await db<
      { listId: string }[]
    >`select list_id from list_member m join list l on l.id = m.list_id and l.removed_at is null where lead_id = ${lead} order by added_at`
  ).map(r => r.listId)
}
