import type { Answers } from '#core/points/answer'
import type { Judged } from '#core/quiz/judge'
import type { DeedKind } from '#core/scoring/deeds'
import type { Db } from '#db/client'
import type { EarningRow } from '#db/trail'

// What leads did that may earn interest, as far as it is kept; the earliest first. Moments in milliseconds since 1970.

export interface EntryDeed {
  leadId: string
  at: number
  key: string
  name: string
  answers: Answers
  result: Judged | null
}
export interface OtherDeed {
  leadId: string
  at: number
  kind: 'clicked' | 'meeting'
  subject: string | null
}

/** So many of what a lead's browsers did count, the latest. */
const MOST = 2000
const ms = (db: Db, moment: string) => db.unsafe(`(extract(epoch from ${moment}) * 1000)::float8`)

export const entryDeeds = (db: Db, leads: string[]) => db<EntryDeed[]>`
  select e.lead_id, ${ms(db, 'e.at')} as at, p.key, p.name, e.answers, e.result from entry e join point p on p.id = e.point_id
  where e.lead_id = any(${leads}::uuid[]) and e.state = 'complete' order by e.at`

/** Pages that the leads' browsers read, or events of theirs, while they were theirs. */
export const trailDeeds = (db: Db, leads: string[], kinds: DeedKind[]) => db<(EarningRow & { leadId: string })[]>`
  select l.id as lead_id, e.* from unnest(${leads}::uuid[]) as l(id) cross join lateral (
    select e.visitor_id, e.kind, e.at, e.path, e.title, e.data from visitor_lead v
    join trail_event e on e.visitor_id = v.visitor_id and e.at >= v.since and e.at < v.until
    where v.lead_id = l.id and v.undone_at is null and e.kind = any(${kinds.map(k => (k === 'page_view' ? 'page' : k))})
    order by e.at desc limit ${MOST}) e order by e.at`

/** Links of mails that were followed, and meetings that were chosen. */
export const otherDeeds = (db: Db, leads: string[]) => db<OtherDeed[]>`
  select w.lead as lead_id, ${ms(db, 'v.at')} as at, v.cause as kind, v.changes->'clicked'->>'subject' as subject
  from (select unnest(${leads}::uuid[]) as lead, unnest(${leads}::uuid[]) as told union all select root, gone from lead_merge where root = any(${leads}::uuid[])) w
  join lead_event v on v.lead_id = w.told where v.cause = 'clicked' or (v.cause = 'meeting' and not v.changes->'meeting' ? 'was') order by v.at`
