import type { PointKind } from '#core/points/kinds'
import type { PageDefinition } from '#core/pages/definition'
import type { PointDefinition } from '#core/points/definition'
import type { Db } from '#db/client'
import { liveEdition } from '#db/points'
import { styled } from '#db/styles'

/** Plans that a point goes live at a moment, as its working copy stands now. One that was planned before is replaced. @returns false when `revision` is no longer the newest */
export async function planGoingLive(db: Db, p: { id: string; revision: number; at: Date; by: string }): Promise<boolean> {
  const { count } = await db`
    insert into going_live (point_id, at, definition, revision, made_by)
    select id, ${p.at}, working_copy, revision, ${p.by} from point where id = ${p.id} and revision = ${p.revision}
    on conflict (point_id) do update set at = excluded.at, definition = excluded.definition, revision = excluded.revision, made_by = excluded.made_by, flaw = null`
  return count === 1
}

/** Nothing goes live by itself any more. */
export const dropGoingLive = (db: Db, point: string) => db`delete from going_live where point_id = ${point}`

export interface Due {
  id: string
  name: string
  kind: PointKind
  definition: PointDefinition | PageDefinition
  at: Date
  by: { id: string; name: string; email: string } | null
}
/** The first point whose moment has come and which nobody else has in hand. */
export async function dueToGoLive(db: Db, now: Date): Promise<Due | undefined> {
  const [row] = await db<Due[]>`
    select p.id, p.name, p.kind, ${styled(db, 'g.definition')} as definition, g.at,
      (select jsonb_build_object('id', m.id, 'name', m.name, 'email', m.email) from member m where m.id = g.made_by) as by
    from going_live g join point p on p.id = g.point_id
    where g.flaw is null and g.at <= ${now} and p.archived_at is null order by g.at limit 1 for update of g, p skip locked`
  return row
}

/** Makes what was planned an edition, and sets it live. */
export const goLive = (db: Db, p: { id: string; edition: string; at: Date }) =>
  liveEdition(db, p, db`select point_id as id, definition, revision, made_by as by from going_live where point_id = ${p.id}`)

/** Says why it could not go live. */
export const keptFromLive = (db: Db, point: string, flaw: string) => db`update going_live set flaw = ${flaw} where point_id = ${point}`

/** What was to go live and could not. */
export const notGoneLive = (db: Db) => db<{ id: string; name: string; kind: PointKind; at: Date; flaw: string }[]>`
  select p.id, p.name, p.kind, g.at, g.flaw from going_live g join point p on p.id = g.point_id where g.flaw is not null and p.archived_at is null order by g.at`
