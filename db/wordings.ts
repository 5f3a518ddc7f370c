import type { Db, Tx } from '#db/client'

export interface TrialSight { point: string; trial: string; wording: string; visitor: string; at: string }

/** Counts visitors who saw a wording, each once in a trial, with what they saw first. */
export const sawWordings = (tx: Db, rows: TrialSight[]) => tx`
  insert into trial_visitor (point_id, trial, wording, visitor_id, seen_at)
  select distinct on (r.point, r.trial, r.visitor) r.point, r.trial, r.wording, r.visitor, r.at from jsonb_to_recordset(${rows as never}::jsonb) as r(point uuid, trial text, wording text, visitor uuid, at timestamptz)
  order by r.point, r.trial, r.visitor, r.at on conflict do nothing`

/** They answered in this wording; what they saw may be told only later. Who had seen another counts for neither. */
export const answeredWordings = (tx: Tx, rows: TrialSight[]) => tx`
  insert into trial_visitor as t (point_id, trial, wording, visitor_id, seen_at, answered_at)
  select distinct on (r.point, r.trial, r.visitor) r.point, r.trial, r.wording, r.visitor, r.at, r.at from jsonb_to_recordset(${rows as never}::jsonb) as r(point uuid, trial text, wording text, visitor uuid, at timestamptz)
  order by r.point, r.trial, r.visitor, r.at
  on conflict (point_id, trial, visitor_id) do update set answered_at = coalesce(t.answered_at, excluded.answered_at) where t.wording = excluded.wording`

export interface TrialCount { wording: string; seen: number; answered: number; since: Date }
/** How many visitors saw each wording of a trial, and how many of them answered. */
export const trialCounts = (db: Db, point: string, trial: string) => db<TrialCount[]>`
  select wording, count(*)::int as seen, count(answered_at)::int as answered, min(seen_at) as since from trial_visitor where point_id = ${point} and trial = ${trial} group by wording`

/** Whose browser it was is forgotten; the figures stay. */
export const unnameTrials = (tx: Tx, visitor: string) => tx`update trial_visitor set visitor_id = gen_random_uuid(), unnamed = true where visitor_id = ${visitor}`
/** The same of everybody whom trails are too old to know. */
export const unnameOldTrials = (db: Db, before: Date) => db`update trial_visitor set visitor_id = gen_random_uuid(), unnamed = true where seen_at < ${before} and not unnamed`
