import { wholeInterestSql } from '#core/scoring/interest-key'
import type { Db } from '#db/client'

export interface BoardLead {
  id: string
  status: string
  name: string
  company: string | null
  fit: number
  interest: number
  days: number
  total: number
}
/** Open leads by status, those who have stood there longest first, some of each; `total` of all of that status. */
export const boardLeads = (db: Db, owner: string | null, each: number) => db<BoardLead[]>`
  select id, status, name, company, fit, interest, days, total::int from (
    select l.id, l.status, coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone', 'Somebody') as name, l.company, l.fit,
      ${db.unsafe(wholeInterestSql('now()'))} as interest, extract(epoch from now() - l.status_at) / 86400.0 as days,
      row_number() over (partition by l.status order by l.status_at, l.id) as n, count(*) over (partition by l.status) as total
    from lead l join status s on s.key = l.status and s.stage in ('first', 'open')
    where l.submitted_at is not null ${owner ? db`and l.owner_id = ${owner}` : db``}) x
  where n <= ${each} order by status, days desc`

/** How many leads stand at each end. */
export const boardEnds = (db: Db, owner: string | null) => db<{ status: string; leads: number }[]>`
  select l.status, count(*)::int as leads from lead l join status s on s.key = l.status and s.stage not in ('first', 'open')
  ${owner ? db`where l.owner_id = ${owner}` : db``} group by 1`

/** How many days won leads stood at each status before they went on; what was taken back is left out. */
export const daysToWin = (db: Db, since: Date) => db<{ status: string; days: number[] }[]>`
  with won as (
    select l.id from lead l join status s on s.key = l.status and s.stage = 'won' where l.status_at >= ${since} order by l.status_at desc limit 2000),
  moves as (
    select v.lead_id, v.changes->'status'->>'from' as status, v.at, lag(v.at) over (partition by v.lead_id order by v.version) as before, l.created_at
    from won join lead_event v on v.lead_id = won.id join lead l on l.id = won.id where v.changes ? 'status' and v.undone_at is null)
  select status, array_agg(extract(epoch from at - coalesce(before, created_at)) / 86400.0)::float8[] as days from moves group by 1`
