import type { Nameless } from '#core/capture/nameless'
import type { Answers } from '#core/points/definition'
import type { Judged } from '#core/quiz/judge'
import type { Language } from '#core/languages/language'
import type { Db, Tx } from '#db/client'
import { finish } from '#db/unfinished'

/** Keeps a quiz that was finished by somebody nameless; what was kept while they typed goes. @returns its id: of the same press of a button the first one's */
export async function keepNameless(tx: Tx, n: Nameless): Promise<string> {
  const { point, edition, unfinished } = n
  const [row] = await tx<{ id: string }[]>`
    with now as (
      insert into nameless (id, point_id, edition_id, landing_id, at, language, via, page, took_ms, answers, result, idempotency_key)
      values (${n.id}, ${point.id}, ${edition.id}, ${n.landing}, ${new Date(n.at)}, ${n.language}, ${n.via}, ${n.page}, ${n.tookMs}, ${n.kept as never},
        ${n.judged as never}, ${n.idempotencyKey})
      on conflict (point_id, idempotency_key) do nothing returning id)
    select id from now union all select id from nameless where point_id = ${point.id} and idempotency_key = ${n.idempotencyKey}`
  if (unfinished)
    for (const statement of finish(tx, [{ ...unfinished, point: point.id, at: new Date(n.at).toISOString() }])) await statement
  return row?.id ?? n.id
}

/** What somebody nameless came to. */
export const namelessById = async (db: Db, id: string) =>
  (
    await db<{ pointId: string; edition: number; language: Language | null; answers: Answers; result: Judged }[]>`
      select n.point_id, d.number as edition, n.language, n.answers, n.result from nameless n join edition d on d.id = n.edition_id where n.id = ${id}`
  )[0]

/** They said who they are after all. */
export const becameEntries = (tx: Tx, rows: { id: string; point: string; entry: string }[]) => tx`
  update nameless n set entry_id = r.entry from jsonb_to_recordset(${rows as never}::jsonb) as r(id uuid, point uuid, entry uuid)
  where n.id = r.id and n.point_id = r.point and n.entry_id is null`

/** They are counted now, or count no more and go. */
export async function namelessCounted(tx: Tx, rows: { id: string; hasEntry: boolean }[]): Promise<void> {
  const ids = (hasEntry: boolean) => rows.flatMap(r => (r.hasEntry === hasEntry ? [r.id] : []))
  await tx`update nameless set counted = true where id = any(${ids(false)}::uuid[])`
  await tx`delete from nameless where id = any(${ids(true)}::uuid[])`
}
/** All are to be counted from the beginning. */
export async function recountNameless(tx: Tx): Promise<void> {
  await tx`delete from nameless where entry_id is not null`
  await tx`update nameless set counted = false where counted`
}
