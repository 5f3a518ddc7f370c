import type { Look } from '#core/points/look'
import type { Db } from '#db/client'

export interface HouseStyle { id: string; name: string; look: Look; points: number }

/** A stored definition with the look of the house style that it follows, if it follows one. */
export const styled = (db: Db, definition: 'p.working_copy' | 'e.definition' | 'definition') => db`(
  select case when s.look is null then d.it else jsonb_set(d.it, '{look}', s.look) end
  from (select ${db.unsafe(definition)} as it) d left join house_style s on s.id::text = d.it->>'houseStyle')`

/** All house styles by name, with how many points in use follow each. */
export const houseStyles = (db: Db) => db<HouseStyle[]>`
  select s.id, s.name, s.look, (select count(*) from point p where p.archived_at is null and p.working_copy->>'houseStyle' = s.id::text) as points
  from house_style s order by lower(s.name)`

/** @returns false when another has this name */
export async function addStyle(db: Db, s: { id: string; name: string; look: Look }): Promise<boolean> {
  return (await db`insert into house_style (id, name, look) values (${s.id}, ${s.name}, ${s.look as never}) on conflict (lower(name)) do nothing`).count === 1
}
export async function changeStyle(db: Db, id: string, look: Look): Promise<boolean> {
  return (await db`update house_style set look = ${look as never} where id = ${id}`).count === 1
}
