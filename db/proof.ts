import type { Sql } from '#db/client'

/** A lead as it was some days after it came, and when it first had one of some statuses. */
export interface CaseRow {
  createdAt: Date
  fit: number | null
  interest: number | null
  scoredAt: Date | null
  half: number | null
  card: number | null
  label: string | null
  rules: string[]
  reachedAt: Date | null
}

/**
 * Leads that came since a moment, in pieces. The score is the one that was kept by the moment at which they are judged; rules of fit
 * are those that hold today, rules of interest those that had given points by then.
 * @param days after which they are judged
 */
export const cases = (db: Sql, statuses: string[], days: number, since: Date) =>
  db<CaseRow[]>`
  with reached as (
    select coalesce(m.root, v.lead_id) as lead_id, min(v.at) as at from lead_event v left join lead_merge m on m.gone = v.lead_id
    where v.changes->'status'->>'to' = any(${statuses}) and v.undone_at is null group by 1)
  select l.created_at, e.fit, e.interest, e.at as scored_at, (s.definition->>'halfLifeDays')::float8 as half, e.card, n.label, r.at as reached_at,
    array(select distinct x->>'rule' from jsonb_array_elements(l.reasons) x
      where x->>'axis' = 'fit' or (x->>'at')::float8 <= extract(epoch from t.at) * 1000) as rules
  from lead l
  cross join lateral (select l.created_at + make_interval(days => ${days}) as at) t
  left join lateral (select v.fit, v.interest, v.at, v.card from lead_event v where v.lead_id = l.id and v.at <= t.at order by v.version desc limit 1) e on true
  left join lateral (select v.changes->'label'->>'to' as label from lead_event v
    where v.lead_id = l.id and v.at <= t.at and v.changes ? 'label' order by v.version desc limit 1) n on true
  left join scorecard_edition s on s.number = e.card
  left join reached r on r.lead_id = l.id
  where l.submitted_at is not null and l.created_at >= ${since}`.cursor(2000)
