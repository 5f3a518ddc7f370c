import type { Condition } from '#core/conditions/condition'
import type { Segment } from '#core/segments/segment'
import type { Db, Sql, Tx } from '#db/client'
import { overLeads } from '#db/conditions'

/** All segments by name. */
export const segments = (db: Db) => db<Segment[]>`select id, name, condition from segment where removed_at is null order by lower(name)`
/** @returns false when another has this name */
export async function saveSegment(db: Db, s: Segment, at: Date): Promise<boolean> {
  const [taken] = await db`select 1 from segment where lower(name) = lower(${s.name}) and removed_at is null and id <> ${s.id}`
  if (taken) return false
  await db`insert into segment (id, name, condition, made_at, updated_at) values (${s.id}, ${s.name}, ${s.condition as never}, ${at}, ${at})
    on conflict (id) do update set name = excluded.name, condition = excluded.condition, updated_at = excluded.updated_at, removed_at = null`
  return true
}
/** @returns whether there is such a segment */
export const removeSegment = async (db: Db, id: string, at: Date): Promise<boolean> =>
  (await db`update segment set removed_at = ${at} where id = ${id} and removed_at is null`).count > 0

/**
 * Reads for conditions over all leads. Somebody with ten thousand events looks to the planner like everybody else, and going
 * through the trail person by person then takes many times what reading it through takes: so it is read through.
 */
export async function readThrough<T>(sql: Sql, read: (tx: Tx) => Promise<T>): Promise<T> {
  const { result } = (await sql.begin('read only', async tx => {
    await tx`set local enable_nestloop = off`
    return { result: await read(tx) }
  })) as { result: T }
  return result
}

/** How many leads a condition holds for. */
export const countFor = async (sql: Sql, condition: Condition, now: number): Promise<number> =>
  await readThrough(
    sql,
    async tx => (await tx<{ n: number }[]>`select count(*)::int as n from lead l where ${overLeads(tx, condition, now)}`)[0]!.n,
  )

/** How many leads a condition holds for, of how many, and the most interested of them: read once. */
export const whoIsIn = async (
  sql: Sql,
  condition: Condition,
  now: number,
  most: number,
): Promise<{ leads: number; of: number; some: string[] }> =>
  await readThrough(
    sql,
    async tx =>
      (
        await tx<
          { leads: number; of: number; some: string[] }[]
        >`with who as materialized (select l.id, l.interest_key from lead l where ${overLeads(tx, condition, now)})
    select (select count(*)::int from who) as leads, (select count(*)::int from lead) as of, array(select id from who order by interest_key desc, id limit ${most}) as some`
      )[0]!,
  )

/** Whether a condition holds for a lead. */
export const holdsForLead = async (db: Db, condition: Condition, lead: string, now: number): Promise<boolean> =>
  (await db`select 1 from lead l where l.id = ${lead} and ${overLeads(db, condition, now)}`).length > 0
