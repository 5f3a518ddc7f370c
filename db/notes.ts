import type { NoteSetting, TryQuestion } from '#core/chat/notes-view'
import type { Db } from '#db/client'

/** A note as it is kept. */
export interface NoteRow {
  id: string
  title: string
  body: string
  source: string | null
  changedAt: Date
}
export const notes = (db: Db) =>
  db<NoteRow[]>`select id, title, body, source, changed_at from note where removed_at is null order by lower(title)`
export const noteById = async (db: Db, id: string): Promise<NoteRow | undefined> =>
  (await db<NoteRow[]>`select id, title, body, source, changed_at from note where id = ${id} and removed_at is null`)[0]

export interface NewNote {
  id: string
  title: string
  body: string
  source: string | null
}
/**
 * Keeps a note: a new one, or one that was changed meanwhile by nobody else. @param was when it was changed last, as whoever changes it
 * read it; null: it is new, or comes back
 * @returns when it was changed now; null when somebody else has changed it
 * @throws 23505 when another note has its title
 */
export async function keepNote(db: Db, note: NewNote, was: Date | null, by: string | null, at: Date): Promise<Date | null> {
  const rows = was
    ? await db<
        { changedAt: Date }[]
      >`update note set title = ${note.title}, body = ${note.body}, changed_at = ${at} where id = ${note.id} and removed_at is null and date_trunc('milliseconds', changed_at) = ${was} returning changed_at`
    : await db<
        { changedAt: Date }[]
      >`insert into note (id, title, body, source, made_at, made_by, changed_at) values (${note.id}, ${note.title}, ${note.body}, ${note.source}, ${at}, ${by}, ${at})
        on conflict (id) do update set title = excluded.title, body = excluded.body, changed_at = excluded.changed_at, removed_at = null where note.removed_at is not null returning changed_at`
  return rows[0]?.changedAt ?? null
}
export const removeNote = async (db: Db, id: string, at: Date): Promise<boolean> =>
  (await db`update note set removed_at = ${at} where id = ${id} and removed_at is null`).count > 0

export const noteSetting = async (db: Db): Promise<NoteSetting> =>
  (await db<NoteSetting[]>`select answers_from, asks_from from note_setting`)[0]!
export const saveNoteSetting = (db: Db, s: NoteSetting, at: Date) =>
  db`update note_setting set answers_from = ${s.answersFrom}, asks_from = ${s.asksFrom}, changed_at = ${at}`

/** Questions to try the notes on, the oldest first. */
export const tryQuestions = (db: Db) => db<TryQuestion[]>`
  select q.id, q.text, n.id as note, q.kept_out from note_question q left join note n on n.id = q.note_id and n.removed_at is null order by q.made_at, q.id`
export const addTryQuestion = (db: Db, q: TryQuestion, at: Date) => db`
  insert into note_question (id, text, note_id, kept_out, made_at) values (${q.id}, ${q.text}, ${q.note}, ${q.keptOut}, ${at}) on conflict (id) do update set text = excluded.text, note_id = excluded.note_id`
export const removeTryQuestion = async (db: Db, id: string): Promise<boolean> =>
  (await db`delete from note_question where id = ${id}`).count > 0

export interface Unanswered {
  id: string
  text: string
  conversationId: string | null
  at: Date
}
export const unanswered = (db: Db) =>
  db<Unanswered[]>`select id, text, conversation_id, at from note_unanswered where done_at is null order by at desc limit 300`
export const addUnanswered = (db: Db, u: Unanswered) =>
  db`insert into note_unanswered (id, text, conversation_id, at) values (${u.id}, ${u.text}, ${u.conversationId}, ${u.at})`
export const settleUnanswered = (db: Db, ids: string[], at: Date | null) =>
  db`update note_unanswered set done_at = ${at} where id = any(${ids}::uuid[])`
