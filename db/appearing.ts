import type { PointDefinition } from '#core/points/definition'
import { completed } from '#core/points/shapes/definition'
import type { Db } from '#db/client'
import { styled } from '#db/styles'

export interface PlacedRow {
  id: string
  key: string
  name: string
  edition: number
  definition: PointDefinition
}

/** The live points that show by themselves, in the order in which they speak. */
export async function appearing(db: Db): Promise<PlacedRow[]> {
  const rows = await db<
    PlacedRow[]
  >`select p.id, p.key, p.name, e.number as edition, ${styled(db, 'e.definition')} as definition from point p join edition e on e.id = p.live_edition
    where p.kind <> 'page' and p.archived_at is null and (e.definition -> 'display' ->> 'on')::boolean order by p.priority, p.created_at, p.id`
  return rows.map(r => ({ ...r, definition: completed(r.definition) }))
}

/** Sets the order in which points speak. */
export const setOrder = (db: Db, ids: string[]) =>
  db`update point p set priority = o.n from unnest(${ids}::uuid[]) with ordinality as o(id, n) where p.id = o.id`

/** The points that a lead has answered. */
export const answeredBy = async (db: Db, lead: string): Promise<Set<string>> =>
  new Set(
    (
      await db<
        { key: string }[]
      >`select distinct p.key from entry e join point p on p.id = e.point_id where e.lead_id = ${lead} and e.state = 'complete'`
    ).map(r => r.key),
  )
