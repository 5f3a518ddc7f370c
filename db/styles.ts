import type { Theme } from '#core/points/theme'
import type { Db } from '#db/client'

export interface HouseStyle {
  id: string
  name: string
  theme: Theme
  points: number
}

/** A stored definition with the theme of the house style that it follows, if it follows one. */
export const styled = (db: Db, definition: 'p.working_copy' | 'e.definition' | 'definition' | 'g.definition') => db`(
  select case when s.theme is null then d.it else jsonb_set(d.it, '{theme}', s.theme) end
  from (select ${db.unsafe(definition)} as it) d left join house_style s on s.id::text = d.it->>'houseStyle')`

/** All house styles by name, with how many points in use follow each. */
export const houseStyles = (db: Db) => db<HouseStyle[]>`
  select s.id, s.name, s.theme, (select count(*) from point p where p.archived_at is null and p.working_copy->>'houseStyle' = s.id::text) as points
  from house_style s order by lower(s.name)`

/** @returns false when another has this name */
export async function addStyle(db: Db, s: { id: string; name: string; theme: Theme }): Promise<boolean> {
  return (
    (
      await db`insert into house_style (id, name, theme) values (${s.id}, ${s.name}, ${s.theme as never}) on conflict (lower(name)) do nothing`
    ).count === 1
  )
}
export async function changeStyle(db: Db, id: string, theme: Theme): Promise<boolean> {
  return (await db`update house_style set theme = ${theme as never} where id = ${id}`).count === 1
}
