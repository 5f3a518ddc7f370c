import type { Answers } from '#core/points/definition'
import type { Db } from '#db/client'

export interface EntryRow { id: string; leadId: string | null; pointId: string; pointKey: string; pointName: string; slug: string; edition: number; at: Date; state: string; answers: Answers; archived: boolean }

export async function entryById(db: Db, id: string): Promise<EntryRow | undefined> {
  return (await db<EntryRow[]>`
    select e.id, e.lead_id, e.point_id, p.key as point_key, p.name as point_name, p.slug, d.number as edition, e.at, e.state, e.answers, p.archived_at is not null as archived
    from entry e join point p on p.id = e.point_id join edition d on d.id = e.edition_id where e.id = ${id}`)[0]
}

/** What a visitor corrected. */
export const correctEntry = (db: Db, id: string, answers: Answers, at: Date) => db`update entry set answers = ${answers as never}, corrected_at = ${at} where id = ${id}`

/** Tells a member something about a lead, at the bell and, where that is wanted, by mail. */
export const addNotice = (db: Db, n: { id: string; to: string; lead: string; at: Date; subject: string; text: string; lines: { label: string; text: string }[]; meeting?: string; mail: boolean }) => db`
  insert into notice (id, member_id, lead_id, at, mail_at, subject, body)
  values (${n.id}, ${n.to}, ${n.lead}, ${n.at}, ${n.mail ? n.at : null}, ${n.subject}, ${{ text: n.text, lines: n.lines, ...(n.meeting && { meeting: n.meeting }) } as never})`

/** A letter that answers a visitor at once, with a calendar file. */
export const addMeetingLetter = (db: Db, l: { id: string; lead: string; entry: string; subject: string; body: string; at: Date }) => db`
  insert into letter (id, lead_id, entry_id, kind, subject, body, due_at) values (${l.id}, ${l.lead}, ${l.entry}, 'meeting', ${l.subject}, ${l.body}, ${l.at})`
