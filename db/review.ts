import type { Language } from '#core/languages/language'
import type { Answers } from '#core/points/definition'
import type { Db, Tx } from '#db/client'

/** Entries that were held or refused: they belong to nobody until somebody lets them in. */
export interface ReviewRow {
  id: string; at: Date; state: 'held' | 'refused'; reason: string; answers: Answers; page: string | null; referrer: string | null; utm: Record<string, string>
  visitorId: string | null; idempotencyKey: string | null; via: string; language: Language | null; tookMs: number | null; pointId: string; point: string; pointKey: string; edition: number
}
const columns = (db: Db) => db`e.id, e.at, e.state, e.reason, e.answers, e.page, e.referrer, e.utm, e.visitor_id, e.idempotency_key, e.via, e.language, e.took_ms,
  p.id as point_id, p.name as point, p.key as point_key, d.number as edition
  from entry e join point p on p.id = e.point_id join edition d on d.id = e.edition_id`

/** What was set aside, newest first. */
export const review = (db: Db, most: number) => db<ReviewRow[]>`
  select ${columns(db)} where e.state in ('held', 'refused') order by e.at desc limit ${most}`

/** Takes one out of the way, to let it in. Undefined when somebody else has dealt with it. */
export async function takeFromReview(tx: Tx, id: string): Promise<ReviewRow | undefined> {
  const [row] = await tx<ReviewRow[]>`select ${columns(tx)} where e.id = ${id} and e.state in ('held', 'refused') for update of e skip locked`
  if (row) await tx`delete from entry where id = ${id}`
  return row
}

/** Throws one away. */
export async function dropFromReview(db: Db, id: string): Promise<boolean> {
  return (await db`delete from entry where id = ${id} and state in ('held', 'refused')`).count === 1
}

/** What was refused is kept for a while; what is held waits. @returns how many went */
export async function forgetRefused(db: Db, before: Date): Promise<number> {
  return (await db`delete from entry where state = 'refused' and at < ${before}`).count
}
