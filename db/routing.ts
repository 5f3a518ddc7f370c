import { readPlan, type RoutingPlan } from '#core/routing/plan'
import type { Db } from '#db/client'
import { editionsIn, type EditionRow } from '#db/editions'

const plans = editionsIn<RoutingPlan>('routing_draft', 'routing_edition')
export const { all: planEditions, draft: planDraft, save: savePlanDraft } = plans
export type RoutingEdition = EditionRow<RoutingPlan>

/** As this Cavlin reads it, whichever wrote it. */
const asRead = <E extends { definition: RoutingPlan }>(edition: E | undefined): E | undefined => {
  const plan = edition && readPlan(edition.definition).plan
  return plan ? { ...edition, definition: plan } : undefined
}

/** The plan that routes now. */
export const livePlan = async (db: Db): Promise<RoutingEdition | undefined> => asRead(await plans.live(db))
export const planNumbered = async (db: Db, number: number): Promise<RoutingEdition | undefined> => asRead(await plans.numbered(db, number))

/** Sets a plan live. Who joins a pool begins level: they are owed nothing. */
export async function addPlan(db: Db, plan: RoutingPlan, at: Date): Promise<void> {
  await plans.add(db, plan, at)
  await seatAll(db, plan)
}
/** Makes the working copy the plan that routes. @returns its number; null when somebody changed it meanwhile, or it is live as it stands */
export async function publishPlan(tx: Db, revision: number, by: string, at: Date): Promise<number | null> {
  const edition = await plans.publish(tx, revision, by, at)
  if (edition) await seatAll(tx, edition.definition)
  return edition?.number ?? null
}

/** Whoever is nobody here gets no turns. */
const seatAll = (db: Db, plan: RoutingPlan) => {
  const seats = plan.lanes.flatMap(l => l.pool.map(seat => ({ lane: l.key, member: seat.member })))
  return db`insert into turn (lane, member_id)
    select r.lane, m.id from jsonb_to_recordset(${seats as never}::jsonb) as r(lane text, member text) join member m on m.id::text = r.member
    on conflict do nothing`
}

export interface Turn {
  lane: string
  memberId: string
  given: number
  credit: number
  lastAt: Date | null
}
export const turns = (db: Db) => db<Turn[]>`select lane, member_id, given, credit, last_at from turn`

/** How many leads each owner got in the last seven days. */
export const gotLately = (db: Db) => db<{ memberId: string; week: number }[]>`
  select owner_id as member_id, count(*) as week from lead where owner_id is not null and owned_at > now() - interval '7 days' group by owner_id`
/** Since when the one has waited who waits longest for each owner. */
export const waitLongest = (db: Db) => db<{ memberId: string; oldestWaiting: Date }[]>`
  select owner_id as member_id, min(waiting_since) as oldest_waiting from lead where owner_id is not null and waiting_since is not null group by owner_id`
