import type { RoutingPlan } from '#core/routing/plan'
import type { Db } from '#db/client'

export interface RoutingEdition { number: number; definition: RoutingPlan; madeAt: Date; madeBy: string | null }

/** The plan that routes now. */
export async function livePlan(db: Db): Promise<RoutingEdition | undefined> {
  return (await db<RoutingEdition[]>`
    select r.number, r.definition, r.made_at, m.name as made_by from routing_edition r left join member m on m.id = r.made_by order by number desc limit 1`)[0]
}

/**
 * Sets a plan live. Who joins a pool begins with as many turns as the one who had
 * most, so that the newcomer does not get everything until they have caught up.
 */
export async function addPlan(db: Db, plan: RoutingPlan, at: Date): Promise<void> {
  await db`insert into routing_edition (definition, made_at) values (${plan as never}, ${at})`
  const seats = plan.lanes.flatMap(l => l.pool.map(member => ({ lane: l.key, member })))
  await db`insert into turn (lane, member_id, given)
    select lane, member, coalesce((select max(given) from turn t where t.lane = r.lane), 0)
    from jsonb_to_recordset(${seats as never}::jsonb) as r(lane text, member uuid) on conflict do nothing`
}

export interface Turn { lane: string; memberId: string; given: number; lastAt: Date | null }
export const turns = (db: Db) => db<Turn[]>`select lane, member_id, given, last_at from turn`

/** How many leads each owner got in the last seven days. */
export const gotLately = (db: Db) => db<{ memberId: string; week: number }[]>`
  select owner_id as member_id, count(*) as week from lead where owner_id is not null and owned_at > now() - interval '7 days' group by owner_id`
/** Since when the one has waited who waits longest for each owner. */
export const waitLongest = (db: Db) => db<{ memberId: string; oldestWaiting: Date }[]>`
  select owner_id as member_id, min(waiting_since) as oldest_waiting from lead where owner_id is not null and waiting_since is not null group by owner_id`
