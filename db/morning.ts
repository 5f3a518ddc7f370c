import type { PointKind } from '#core/points/kinds'
import type { Db } from '#db/client'

// What a marketer looks at in the morning: their points, not people.

/** A point and how much came through it since a moment. */
export interface Came {
  id: string
  name: string
  kind: PointKind
  entries: number
  /** Of these, waiting for a judgement. */
  held: number
}
/** Points that something came through since a moment, most first: forms by their entries, pages by what came through them. */
export const cameSince = (db: Db, since: Date) => db<Came[]>`
  with came as (select point_id, landing_id, state from entry where at >= ${since} and via <> 'archive' and state <> 'refused')
  select p.id, p.name, p.kind, count(*)::int as entries, count(*) filter (where c.state = 'held')::int as held
  from (select point_id as id, state from came union all select landing_id, state from came where landing_id is not null) c join point p using (id)
  group by p.id, p.name, p.kind order by entries desc, lower(p.name) limit 30`

/** An edition that went live. */
export interface WentLive {
  id: string
  name: string
  kind: PointKind
  number: number
  at: Date
  by: string | null
}
export const wentLiveSince = (db: Db, since: Date) => db<WentLive[]>`
  select p.id, p.name, p.kind, d.number, d.made_at as at, m.name as by
  from edition d join point p on p.id = d.point_id left join member m on m.id = d.made_by
  where d.made_at >= ${since} and p.archived_at is null order by d.made_at desc limit 10`

/** A plain copy on somebody's page that still asks what an old edition asked. */
export interface Stale {
  id: string
  name: string
  page: string | null
  edition: number
  live: number
  at: Date
}
export const staleCopies = (db: Db, since: Date) => db<Stale[]>`
  select p.id, p.name, c.page, c.edition, l.number as live, c.at
  from point p join edition l on l.id = p.live_edition join lateral (
    select e.page, max(d.number) as edition, max(e.at) as at from entry e join edition d on d.id = e.edition_id
    where e.point_id = p.id and e.at >= ${since} and e.via = 'plain' and e.state <> 'refused' group by e.page
  ) c on c.edition < l.number
  where p.archived_at is null order by c.at desc limit 10`

/** Mails of points that could not be delivered. */
export interface Undelivered {
  id: string
  name: string
  mails: number
}
export const undeliveredSince = (db: Db, since: Date) => db<Undelivered[]>`
  select p.id, p.name, count(*)::int as mails
  from delivery t join entry e on e.id = t.entry_id join point p on p.id = e.point_id
  where t.member_id is null and t.at >= ${since} and t.dropped = 'gave up' group by p.id, p.name order by mails desc limit 10`
