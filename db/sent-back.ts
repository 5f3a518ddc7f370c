import type { Db } from '#db/client'

export interface SentBackRow {
  lead: string
  at: Date
  why: string
  rules: string[]
  /** The point of the last entry before, by its key. */
  point: string | null
}
/** Who was sent back since a moment, and that still stands. */
export const sentBackSince = (db: Db, since: Date, most: number) => db<SentBackRow[]>`
  select v.lead_id as lead, v.at, v.changes->'sent_back'->>'why' as why, array(select jsonb_array_elements_text(v.changes->'sent_back'->'rules')) as rules, p.key as point
  from lead_event v join lead l on l.id = v.lead_id
  left join lateral (select e.point_id from entry e where e.lead_id = v.lead_id and e.at <= v.at and e.state = 'complete' order by e.at desc limit 1) e on true
  left join point p on p.id = e.point_id
  where v.cause = 'sent_back' and v.at >= ${since} and v.undone_at is null order by v.at desc limit ${most}`

/** Leads that were given to somebody since a moment: how many, with points by each rule, and by the point that they came through first. */
export async function givenSince(db: Db, since: Date): Promise<{ all: number; byRule: Map<string, number>; byPoint: Map<string, number> }> {
  const given = db`select l.id, l.reasons, l.counted from lead l where l.owned_at >= ${since}`
  const [[all], rules, points] = await Promise.all([
    db<{ n: number }[]>`select count(*)::int as n from (${given}) g`,
    db<
      { key: string; n: number }[]
    >`select r->>'rule' as key, count(distinct g.id)::int as n from (${given}) g, jsonb_array_elements(g.reasons) r where r->>'rule' is not null group by 1`,
    db<
      { key: string; n: number }[]
    >`select g.counted->'first'->>0 as key, count(*)::int as n from (${given}) g where g.counted->'first'->>0 <> '' group by 1`,
  ])
  return { all: all!.n, byRule: new Map(rules.map(r => [r.key, r.n])), byPoint: new Map(points.map(p => [p.key, p.n])) }
}
