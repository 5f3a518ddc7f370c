import type { Db } from '#db/client'

export interface AnsweredEndRow {
  owner: string | null
  lane: string | null
  label: string | null
  since: Date
  at: Date
  won: boolean
}
/** Leads that were won or lost since a moment and were answered before, the latest first: how long they had waited for the first answer, and as what. */
export const answeredEnds = (db: Db, since: Date, most: number) => db<AnsweredEndRow[]>`
  with ended as materialized (
    select l.id, l.lane, s.stage = 'won' as won from lead l join status s on s.key = l.status
    where s.stage in ('won', 'lost') and l.status_at >= ${since} order by l.status_at desc limit ${most})
  select v.owner, e.lane, v.label, v.since, v.at, e.won
  from ended e cross join lateral (
    select coalesce(x.actor_id::text, x.facets->>'owner') as owner, x.facets->>'label' as label, (x.changes->'answered'->>'since')::timestamptz as since, x.at
    from lead_event x where x.lead_id = e.id and x.changes ? 'answered' and x.changes->'answered'->>'by' <> 'closed' and x.undone_at is null order by x.version limit 1) v`

/** Answers to mails of ours for which some leads wait, the last of each. */
export const repliesThatWait = (db: Db, leads: string[]) => db<{ lead: string; at: Date; subject: string }[]>`
  select l.id as lead, v.at, coalesce(v.changes->'replied'->>'subject', '') as subject
  from lead l cross join lateral (
    select x.at, x.changes from lead_event x where x.lead_id = l.id and x.changes ? 'replied' and not coalesce((x.changes->'replied'->>'auto')::boolean, false) order by x.version desc limit 1) v
  where l.id = any(${leads}::uuid[]) and l.waiting_since <= v.at`
