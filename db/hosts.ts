import type { Db } from '#db/client'

export interface HostRow {
  name: string
  arrivedAt: Date | null
  front: string | null
  points: { id: string; name: string }[]
}

/** All names under which forms and pages are found. */
export const hostRows = (db: Db) => db<HostRow[]>`
  select h.name, h.arrived_at, h.front_id as front,
    (select coalesce(jsonb_agg(jsonb_build_object('id', p.id, 'name', p.name) order by lower(p.name)), '[]')
      from point p where p.host = h.name and p.archived_at is null) as points
  from host h order by h.name`

/** @returns false when it is there already */
export const addHost = async (db: Db, name: string): Promise<boolean> =>
  (await db`insert into host (name) values (${name}) on conflict do nothing`).count === 1

/** Takes a name away under which nothing in use stands. @returns false when something does, or there is no such name */
export const removeHost = async (db: Db, name: string): Promise<boolean> =>
  (await db`delete from host where name = ${name} and not exists (select from point where host = ${name} and archived_at is null)`)
    .count === 1

/** Chooses what stands at the bare address. @returns false when there is no such name, or this does not stand under it */
export const setFront = async (db: Db, name: string, front: string | null): Promise<boolean> =>
  (
    await db`update host set front_id = ${front}
    where name = ${name} and (${front}::uuid is null or exists (select from point where id = ${front} and host = ${name} and archived_at is null))`
  ).count === 1

/** A browser came under a name. @returns whether it was the first */
export const arriveAt = async (db: Db, name: string): Promise<boolean> =>
  (await db`update host set arrived_at = now() where name = ${name} and arrived_at is null`).count === 1

/** Says under which name a point stands, or that it stands at the application's own address. @returns false when there is no such name */
export async function placeUnder(db: Db, point: string, host: string | null): Promise<boolean> {
  const { count } = await db`
    with there as (select 1 where ${host}::text is null or exists (select from host where name = ${host})),
    left_behind as (update host set front_id = null from there where front_id = ${point} and name is distinct from ${host})
    update point set host = ${host} from there where id = ${point}`
  return count === 1
}

/** What stands at the bare address of a name, where it is live: the last part of its address. */
export async function frontOf(db: Db, name: string): Promise<string | null> {
  const [row] = await db<{ slug: string }[]>`
    select p.slug from host h join point p on p.id = h.front_id
    where h.name = ${name} and p.live_edition is not null and p.archived_at is null`
  return row?.slug ?? null
}
