import type { Condition } from '#core/conditions/condition'
import type { PointDefinition } from '#core/points/definition'
import type { Db } from '#db/client'
import { overLeads } from '#db/conditions'

export interface CaseToLearn {
  id: string
  createdAt: Date
  reachedAt: Date | null
  fit: number | null
  interest: number | null
  scoredAt: Date | null
  half: number | null
}
interface Asked {
  statuses: string[]
  days: number
  since: Date
  /** Segments written out. */ condition: Condition | null
  now: number
}

/** Leads that came since a moment, the latest first, when they first had one of some statuses, and their score some days after they came. */
export const casesToLearn = (db: Db, { statuses, days, since, condition, now }: Asked) => db<CaseToLearn[]>`
  with reached as (
    select coalesce(m.root, v.lead_id) as lead_id, min(v.at) as at from lead_event v left join lead_merge m on m.gone = v.lead_id
    where v.changes->'status'->>'to' = any(${statuses}) and v.undone_at is null group by 1)
  select l.id, l.created_at, r.at as reached_at, e.fit, e.interest, e.at as scored_at, (s.definition->>'halfLifeDays')::float8 as half
  from lead l
  left join lateral (select v.fit, v.interest, v.at, v.card from lead_event v
    where v.lead_id = l.id and v.at <= l.created_at + make_interval(days => ${days}) order by v.version desc limit 1) e on true
  left join scorecard_edition s on s.number = e.card
  left join reached r on r.lead_id = l.id
  where l.submitted_at is not null and l.created_at >= ${since} ${condition ? db`and ${overLeads(db, condition, now)}` : db``}
  order by l.created_at desc limit 200000`

type Until = { lead: string; at: Date }[]
const untilRows = (db: Db, until: Until) =>
  db`unnest(${until.map(u => u.lead)}::uuid[], ${until.map(u => u.at.toISOString())}::timestamptz[]) as u(lead, at)`
export interface EntryUntil {
  leadId: string
  editionId: string
  point: string
  answers: Record<string, unknown>
}
/** What people had answered by a moment of their own, the first first. */
export const entriesUntil = (db: Db, until: Until) => db<EntryUntil[]>`
  select e.lead_id, e.edition_id, p.key as point, e.answers
  from ${untilRows(db, until)} join entry e on e.lead_id = u.lead and e.at <= u.at and e.state = 'complete' join point p on p.id = e.point_id order by e.at, e.id`
/** How many pages they had read by then, in how many visits. */
export const readUntil = (db: Db, until: Until) => db<{ leadId: string; pages: number; visits: number }[]>`
  select u.lead as lead_id, count(*)::int as pages, count(distinct e.visit_id)::int as visits
  from ${untilRows(db, until)} join visitor_lead v on v.lead_id = u.lead and v.undone_at is null
  join trail_event e on e.visitor_id = v.visitor_id and e.at >= v.since and e.at < v.until and e.at <= u.at and e.kind = 'page' group by u.lead`
export async function editionDefinitions(db: Db, ids: string[]): Promise<Map<string, PointDefinition>> {
  const rows = await db<{ id: string; definition: PointDefinition }[]>`select id, definition from edition where id = any(${ids}::uuid[])`
  return new Map(rows.map(r => [r.id, r.definition]))
}
/** The latest leads with their fit. */
export const latestFits = (db: Db, most: number) => db<{ id: string; fit: number }[]>`
  select id, fit from lead where submitted_at is not null order by created_at desc, id desc limit ${most}`
