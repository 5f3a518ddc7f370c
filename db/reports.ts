import { wholeInterestSql } from '#core/scoring/interest-key'
import type { Db } from '#db/client'

export interface Yield { key: string; name: string; leads: number; qualified: number; won: number; lost: number }

/**
 * What became of the leads that first came through each point, and from each
 * source, since a moment. A source is the UTM source of the first entry, else the referring site.
 */
export async function yields(db: Db, since: Date): Promise<{ points: Yield[]; sources: Yield[] }> {
  const first = db`select distinct on (e.lead_id) e.lead_id, p.key as point_key, p.name as point_name,
      coalesce(e.utm->>'source', substring(e.referrer from '^https?://(?:www\\.)?([^/:?#]+)'), 'direct') as source
    from entry e join point p on p.id = e.point_id where e.state = 'complete' order by e.lead_id, e.at`
  const count = db`count(*) as leads,
    count(*) filter (where b.qualified or exists (select from lead_event v join label q on q.key = v.changes->'label'->>'to' where v.lead_id = l.id and q.qualified)) as qualified,
    count(*) filter (where s.stage = 'won') as won, count(*) filter (where s.stage = 'lost') as lost
    from lead l join f on f.lead_id = l.id join status s on s.key = l.status left join label b on b.key = l.label where l.created_at >= ${since}`
  const [points, sources] = await Promise.all([
    db<Yield[]>`with f as (${first}) select f.point_key as key, f.point_name as name, ${count} group by 1, 2 order by leads desc`,
    db<Yield[]>`with f as (${first}) select f.source as key, f.source as name, ${count} group by 1, 2 order by leads desc limit 20`,
  ])
  return { points, sources }
}

/** New leads by day, in the team's zone, and how many of them have qualified at some time. */
export const leadsByDay = (db: Db, since: Date, zone: string) => db<{ day: string; leads: number; qualified: number }[]>`
  select to_char(d, 'YYYY-MM-DD') as day, count(l.id) as leads, count(l.id) filter (where b.qualified or exists (
      select from lead_event v join label q on q.key = v.changes->'label'->>'to' where v.lead_id = l.id and q.qualified)) as qualified
  from generate_series(date_trunc('day', ${since}::timestamptz at time zone ${zone}), date_trunc('day', now() at time zone ${zone}), interval '1 day') d
  left join lead l on l.created_at >= d at time zone ${zone} and l.created_at < (d + interval '1 day') at time zone ${zone}
  left join label b on b.key = l.label
  group by d order by d`

export interface Spot { id: string; name: string; fit: number; interest: number; label: string | null }
/** Where open leads stand, for the map of fit and interest. */
export const spots = (db: Db, most: number) => db<Spot[]>`
  select l.id, coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone', 'Somebody') as name, l.fit, ${db.unsafe(wholeInterestSql('now()'))} as interest, l.label
  from lead l join status s on s.key = l.status where s.stage in ('first', 'open') order by l.updated_at desc limit ${most}`

/** How many open leads carry each label; null for none. */
export const labelCounts = (db: Db) => db<{ label: string | null; leads: number }[]>`
  select l.label, count(*) as leads from lead l join status s on s.key = l.status where s.stage in ('first', 'open') group by l.label`
