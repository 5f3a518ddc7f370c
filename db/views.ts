import type { Db } from '#db/client'

/** A view of the table of leads that was kept. */
export interface SavedView {
  id: string
  name: string
  /** Everybody's. */
  shared: boolean
  query: Record<string, string | string[]>
  columns: string[]
  /** Who made it; null: who has left. */
  by: string | null
}
const columns = (db: Db) => db`v.id, v.name, v.member_id is null as shared, v.query, v.columns, v.made_by as by`

/** One's own views, and the team's. */
export const viewsOf = (db: Db, member: string) => db<SavedView[]>`
  select ${columns(db)} from saved_view v where v.member_id is null or v.member_id = ${member} order by v.member_id is null, lower(v.name)`

export const MOST_VIEWS = 100
/** Keeps a view. @returns false when there is one of that name, or there are too many */
export const addView = async (
  db: Db,
  v: { id: string; member: string | null; name: string; query: object; columns: string[]; by: string },
): Promise<boolean> =>
  (
    await db`insert into saved_view (id, member_id, name, query, columns, made_by)
    select ${v.id}::uuid, ${v.member}::uuid, ${v.name}, ${v.query as never}::jsonb, ${v.columns}, ${v.by}::uuid where (select count(*) from saved_view where made_by = ${v.by}) < ${MOST_VIEWS}
    on conflict do nothing returning 1`
  ).length > 0

/** Changes a view that somebody may change. @throws 23505 when there is one of that name */
export const changeView = async (
  db: Db,
  id: string,
  member: string,
  mayShared: boolean,
  v: { name: string; query: object; columns: string[] },
): Promise<boolean> =>
  (
    await db`update saved_view set name = ${v.name}, query = ${v.query as never}::jsonb, columns = ${v.columns}
    where id = ${id} and (member_id = ${member} or (member_id is null and (made_by = ${member} or ${mayShared}))) returning 1`
  ).length > 0

/** Takes away a view that somebody may change. */
export const dropView = async (db: Db, id: string, member: string, mayShared: boolean): Promise<boolean> =>
  (
    await db`delete from saved_view where id = ${id} and (member_id = ${member} or (member_id is null and (made_by = ${member} or ${mayShared}))) returning 1`
  ).length > 0
