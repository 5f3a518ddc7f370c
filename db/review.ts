import type { Language } from '#core/languages/language'
import type { Answers } from '#core/points/definition'
import type { Db, Tx } from '#db/client'

/** Entries that were held or refused: they belong to nobody until somebody lets them in. */
export interface ReviewRow {
  id: string
  at: Date
  state: 'held' | 'refused'
  reason: string
  answers: Answers
  page: string | null
  referrer: string | null
  utm: Record<string, string>
  visitorId: string | null
  idempotencyKey: string | null
  via: string
  language: Language | null
  tookMs: number | null
  pointId: string
  point: string
  pointKey: string
  edition: number
  judgedAt: Date | null
  judgedBy: string | null
  judgedWhy: string | null
  letInAt: Date | null
}
const columns = (
  db: Db,
) => db`e.id, e.at, e.state, e.reason, e.answers, e.page, e.referrer, e.utm, e.visitor_id, e.idempotency_key, e.via, e.language, e.took_ms,
  p.id as point_id, p.name as point, p.key as point_key, d.number as edition, e.judged_at, m.name as judged_by, e.judged_why, e.let_in_at
  from entry e join point p on p.id = e.point_id join edition d on d.id = e.edition_id left join member m on m.id = e.judged_by`

/** What was set aside: what is held first, then what was refused, each newest first. */
export const review = (db: Db, most: number) => db<ReviewRow[]>`
  select ${columns(db)} where e.state in ('held', 'refused') order by e.state, e.at desc limit ${most}`

/** How many wait for somebody: held entries that nobody has let in, pairs, and confirmed addresses. */
export const waitingForReview = async (db: Db): Promise<number> =>
  (
    await db<{ n: number }[]>`select (select count(*) from entry where state = 'held' and let_in_at is null)
    + (select count(*) from likely_pair where apart_at is null)
    + (select count(*) from claimed_address where confirmed_at is not null and settled_at is null) as n`
  )[0]!.n

/** Says when some are let in. @returns those that were there */
export const letIn = async (db: Db, ids: string[], by: string, at: Date, when: Date): Promise<string[]> =>
  (
    await db<{ id: string }[]>`
    update entry set let_in_at = ${when}, judged_by = ${by}, judged_at = ${at}, judged_why = null
    where id = any(${ids}::uuid[]) and state in ('held', 'refused') and let_in_at is null returning id`
  ).map(r => r.id)

/** Does not take some in, and says why. @returns those that were held */
export const refuse = async (db: Db, ids: string[], by: string, why: string, at: Date): Promise<string[]> =>
  (
    await db<{ id: string }[]>`
    update entry set state = 'refused', judged_by = ${by}, judged_at = ${at}, judged_why = ${why}
    where id = any(${ids}::uuid[]) and state = 'held' and let_in_at is null returning id`
  ).map(r => r.id)

/** Takes back that some were let in, as long as it waits, or refused by somebody. @returns those that it was taken back of */
export const takeBack = async (db: Db, ids: string[]): Promise<string[]> =>
  (
    await db<{ id: string }[]>`
    update entry set state = case when let_in_at is null then 'held' else state end, let_in_at = null, judged_by = null, judged_at = null, judged_why = null
    where id = any(${ids}::uuid[]) and (let_in_at is not null or (state = 'refused' and judged_by is not null)) and state in ('held', 'refused') returning id`
  ).map(r => r.id)

/** One that could not be let in waits again, with the reason. */
export const couldNotLetIn = (db: Db, id: string, why: string) => db`
  update entry set let_in_at = null, judged_why = ${why} where id = ${id} and let_in_at is not null`

/** Entries whose time to be let in has come, the first first, and who let them in. */
export const dueToLetIn = (db: Db, by: Date, most: number) => db<{ id: string; judgedBy: string | null }[]>`
  select id, judged_by from entry where let_in_at <= ${by} order by let_in_at, id limit ${most}`

/** Takes one out of the way, to let it in. Undefined when somebody else has dealt with it. */
export async function takeFromReview(tx: Tx, id: string): Promise<ReviewRow | undefined> {
  const [row] = await tx<
    ReviewRow[]
  >`select ${columns(tx)} where e.id = ${id} and e.state in ('held', 'refused') for update of e skip locked`
  if (row) await tx`delete from entry where id = ${id}`
  return row
}

/** What was refused is kept for a while from then on; what is held waits. @returns how many went */
export async function forgetRefused(db: Db, before: Date): Promise<number> {
  return (await db`delete from entry where state = 'refused' and let_in_at is null and coalesce(judged_at, at) < ${before}`).count
}
