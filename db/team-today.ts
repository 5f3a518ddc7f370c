import type { Db } from '#db/client'

export interface WaitsRow {
  lead: string
  owner: string | null
  lane: string | null
  label: string | null
  since: Date
}
/** All who wait for an answer, the longest first. */
export const allWaiting = (db: Db, most: number) => db<WaitsRow[]>`
  select l.id as lead, l.owner_id as owner, l.lane, l.label, l.waiting_since as since from lead l join status s on s.key = l.status
  where l.waiting_since is not null and s.stage not in ('lost', 'parked') order by l.waiting_since limit ${most}`

export interface AnsweredRow extends WaitsRow {
  at: Date
}
/** Who was answered since a moment, by whom, as they were then. Who was closed without an answer is none. */
export const answeredSince = (db: Db, since: Date, most: number) => db<AnsweredRow[]>`
  select v.lead_id as lead, coalesce(v.actor_id::text, v.facets->>'owner') as owner, l.lane, v.facets->>'label' as label, (v.changes->'answered'->>'since')::timestamptz as since, v.at
  from lead_event v join lead l on l.id = v.lead_id
  where v.at >= ${since} and v.changes ? 'answered' and v.changes->'answered'->>'by' <> 'closed' and v.undone_at is null order by v.at desc limit ${most}`

/** Whose next step is late. */
export const lateSteps = (db: Db, now: Date, most: number) => db<{ lead: string; owner: string | null }[]>`
  select l.id as lead, l.owner_id as owner from lead l join status s on s.key = l.status and s.stage in ('first', 'open') where l.next_step_at < ${now} order by l.next_step_at limit ${most}`

/** How many open leads each member has; of who has left too. */
export const openByOwner = (db: Db) => db<{ member: string | null; open: number; name: string | null; active: boolean | null }[]>`
  select l.owner_id as member, count(*)::int as open, m.name, m.active from lead l join status s on s.key = l.status and s.stage in ('first', 'open') left join member m on m.id = l.owner_id
  where l.submitted_at is not null group by 1, 3, 4`

/** Some leads in the order in which they are named. */
export const untouchedSince = (db: Db, before: Date) => db<{ lead: string }[]>`
  select l.id as lead from lead l join status s on s.key = l.status and s.stage = 'first' where l.submitted_at < ${before} and l.owner_id is not null order by l.submitted_at limit 500`
