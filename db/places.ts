import type { Db } from '#db/client'

export interface Count {
  point: string
  edition: number
  page: string
  day: string
  seen: number
  started: number
}

/** Adds to what was counted of a point on a page on a day. */
export async function addCount(db: Db, c: Count): Promise<void> {
  await db`insert into point_count (point_id, edition, page, day, seen, started) values (${c.point}, ${c.edition}, ${c.page}, ${c.day}, ${c.seen}, ${c.started})
    on conflict (point_id, edition, page, day) do update set seen = point_count.seen + excluded.seen, started = point_count.started + excluded.started`
}

/** Pages with how many visitors, who agreed to be counted as such, read them. */
export const pageVisitors = (db: Db, since: Date) => db<{ page: string; title: string | null; visitors: number }[]>`
  select v.site || e.path as page, (array_agg(e.title order by e.at desc))[1] as title, count(distinct e.visitor_id) as visitors
  from trail_event e join visit v on v.id = e.visit_id where e.at >= ${since} and e.kind = 'page' and not v.robot group by 1 order by visitors desc limit 500`

export interface PlacedPoint {
  page: string
  pointId: string
  name: string
  seen: number
  started: number
  finished: number
  counted: number
}
/** What stood on which page: seen and begun as counted there, finished as entries came from it; `counted` of them by visitors whose looks were counted too. */
export const placedPoints = (db: Db, since: Date) => db<PlacedPoint[]>`
  with counted as (
    select page, point_id, sum(seen)::int as seen, sum(started)::int as started from point_count where day >= ${since}::date group by page, point_id),
  finished as (
    select split_part(page, '?', 1) as page, point_id, count(*)::int as finished, count(visitor_id)::int as counted from entry where at >= ${since} and state = 'complete' and page is not null group by 1, 2)
  select coalesce(c.page, f.page) as page, p.id as point_id, p.name, coalesce(c.seen, 0) as seen, coalesce(c.started, 0) as started, coalesce(f.finished, 0) as finished, coalesce(f.counted, 0) as counted
  from counted c full join finished f on f.page = c.page and f.point_id = c.point_id
  join point p on p.id = coalesce(c.point_id, f.point_id) where p.archived_at is null
  order by finished desc, seen desc`
