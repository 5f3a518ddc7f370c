import type { Db } from '#db/client'

/** A text that the team begins mails with. */
export interface ReadyText {
  id: string
  name: string
  subject: string
  body: string
  /** In whole milliseconds: who writes it anew says what they saw. */
  changedAt: Date
}
export const readyTexts = (db: Db) => db<ReadyText[]>`select id, name, subject, body, changed_at from ready_text order by lower(name)`

export const MOST_READY = 100
/**
 * Keeps one, or writes one anew.
 * @param was when the one that was seen was written; null: it is a new one
 * @returns `many` when there are too many, `other` when somebody wrote it anew meanwhile, or removed it
 * @throws 23505 when another has its name
 */
export async function keepReadyText(
  db: Db,
  t: Omit<ReadyText, 'changedAt'>,
  was: Date | null,
  by: string,
): Promise<'kept' | 'many' | 'other'> {
  if (was === null) {
    const made = await db`insert into ready_text (id, name, subject, body, made_by, changed_at)
      select ${t.id}::uuid, ${t.name}, ${t.subject}, ${t.body}, ${by}::uuid, date_trunc('milliseconds', now()) where (select count(*) from ready_text) < ${MOST_READY} returning 1`
    return made.length ? 'kept' : 'many'
  }
  const changed =
    await db`update ready_text set name = ${t.name}, subject = ${t.subject}, body = ${t.body}, changed_at = date_trunc('milliseconds', now()) where id = ${t.id} and changed_at = ${was} returning 1`
  return changed.length ? 'kept' : 'other'
}

export const dropReadyText = async (db: Db, id: string): Promise<boolean> =>
  (await db`delete from ready_text where id = ${id} returning 1`).length > 0
/** Makes room for one of this name. */
export const dropReadyTextNamed = (db: Db, name: string) => db`delete from ready_text where lower(name) = lower(${name})`
