import type { Db, Tx } from '#db/client'

export interface VariantSight {
  point: string
  experiment: string
  variant: string
  visitor: string
  at: string
}

/** Counts visitors who saw a variant, each once in an experiment, with what they saw first. */
export const sawVariants = (tx: Db, rows: VariantSight[]) => tx`
  insert into experiment_visitor (point_id, experiment, variant, visitor_id, seen_at)
  select distinct on (r.point, r.experiment, r.visitor) r.point, r.experiment, r.variant, r.visitor, r.at from jsonb_to_recordset(${rows as never}::jsonb) as r(point uuid, experiment text, variant text, visitor uuid, at timestamptz)
  order by r.point, r.experiment, r.visitor, r.at on conflict do nothing`

/** They answered in this variant; what they saw may be told only later. Who had seen another counts for neither. */
export const answeredVariants = (tx: Tx, rows: VariantSight[]) => tx`
  insert into experiment_visitor as t (point_id, experiment, variant, visitor_id, seen_at, answered_at)
  select distinct on (r.point, r.experiment, r.visitor) r.point, r.experiment, r.variant, r.visitor, r.at, r.at from jsonb_to_recordset(${rows as never}::jsonb) as r(point uuid, experiment text, variant text, visitor uuid, at timestamptz)
  order by r.point, r.experiment, r.visitor, r.at
  on conflict (point_id, experiment, visitor_id) do update set answered_at = coalesce(t.answered_at, excluded.answered_at) where t.variant = excluded.variant`

export interface VariantCount {
  variant: string
  seen: number
  answered: number
  since: Date
}
/** How many visitors saw each variant of an experiment, and how many of them answered. */
export const variantCounts = (db: Db, point: string, experiment: string) => db<VariantCount[]>`
  select variant, count(*)::int as seen, count(answered_at)::int as answered, min(seen_at) as since from experiment_visitor where point_id = ${point} and experiment = ${experiment} group by variant`

/** Whose browser it was is forgotten; the figures stay. */
export const unnameExperiments = (tx: Tx, visitor: string) =>
  tx`update experiment_visitor set visitor_id = gen_random_uuid(), unnamed = true where visitor_id = ${visitor}`
/** The same of everybody whom trails are too old to know. */
export const unnameOldExperiments = (db: Db, before: Date) =>
  db`update experiment_visitor set visitor_id = gen_random_uuid(), unnamed = true where seen_at < ${before} and not unnamed`
