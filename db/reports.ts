import { wholeInterestSql } from '#core/scoring/interest-key'
import type { Db } from '#db/client'

export interface SpotRow {
  id: string
  fit: number
  interest: number
  label: string | null
}
/** Where open leads stand, those first that were changed last. */
export const spots = (db: Db, most: number) => db<SpotRow[]>`
  select l.id, l.fit, ${db.unsafe(wholeInterestSql('now()'))} as interest, l.label
  from lead l join status s on s.key = l.status where s.stage in ('first', 'open') order by l.updated_at desc, l.id limit ${most}`

/** Open leads that have points by a rule of the card, those first that were changed last. */
export const spotsOf = async (db: Db, rule: string, most: number): Promise<string[]> =>
  (
    await db<{ id: string }[]>`
    select l.id from lead l join status s on s.key = l.status
    where s.stage in ('first', 'open') and l.reasons @> ${[{ rule }] as never}::jsonb order by l.updated_at desc, l.id limit ${most}`
  ).map(r => r.id)

/** Where some leads stood at a moment: fit, and interest as it had faded by then; of those that there were. */
export const stoodAt = (db: Db, leads: string[], at: Date) => db<{ id: string; fit: number; interest: number }[]>`
  select l.id, e.fit, round(e.interest * power(2, -extract(epoch from ${at}::timestamptz - e.at) / 86400 / l.half_life_days))::int as interest
  from lead l cross join lateral (
    select v.at, v.fit, v.interest from lead_event v where v.lead_id = l.id and v.at <= ${at} and v.fit is not null order by v.version desc limit 1) e
  where l.id = any(${leads}::uuid[])`
