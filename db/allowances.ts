import type { Db } from '#db/client'

/** Something that may be done so often within a time. */
export interface Wanted {
  kind: string
  key: string
  seconds: number
}
/** How much is taken by now, this once included, and for how many seconds it still counts. */
export interface Taken {
  kind: string
  taken: number
  seconds: number
}

/**
 * Takes one of each allowance, before what is limited is done: of a hundred at once each learns another number.
 * Rows are taken in one order, so that two never wait for each other crosswise.
 */
export const take = (db: Db, wanted: Wanted[]) => db<Taken[]>`
  insert into allowance as a (kind, key, taken, until)
  select w.kind, w.key, 1, now() + w.seconds * interval '1 second'
    from jsonb_to_recordset(${wanted as never}::jsonb) as w(kind text, key text, seconds int) order by w.kind, w.key
  on conflict (kind, key) do update set taken = case when a.until <= now() then 1 else a.taken + 1 end, until = case when a.until <= now() then excluded.until else a.until end
  returning kind, taken, ceil(extract(epoch from until - now()))::int as seconds`

/** Gives back what was taken and not used up. */
export const giveBack = (db: Db, wanted: Pick<Wanted, 'kind' | 'key'>[]) => db`
  update allowance a set taken = greatest(0, a.taken - 1) from jsonb_to_recordset(${wanted as never}::jsonb) as w(kind text, key text)
    where a.kind = w.kind and a.key = w.key`

/** Begins one anew. */
export const beginAnew = (db: Db, { kind, key }: Pick<Wanted, 'kind' | 'key'>) =>
  db`delete from allowance where kind = ${kind} and key = ${key}`

export const forgetAllowances = (db: Db) => db`delete from allowance where until < now()`
