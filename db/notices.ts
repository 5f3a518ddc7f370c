import type { Answers, Question } from '#core/points/definition'
import type { Db } from '#db/client'

export interface Notice { id: string; leadId: string; at: Date; subject: string; readAt: Date | null }

/** What the bell shows a member: the newest notices, and how many are unread. */
export async function bell(db: Db, member: string, most: number): Promise<{ unread: number; notices: Notice[] }> {
  const [[count], notices] = await Promise.all([
    db<{ unread: number }[]>`select count(*) as unread from notice where member_id = ${member} and read_at is null`,
    db<Notice[]>`select id, lead_id, at, subject, read_at from notice where member_id = ${member} order by at desc, id desc limit ${most}`,
  ])
  return { unread: count!.unread, notices }
}

/** Marks what a member has seen: everything, or what concerns one lead. */
export async function markRead(db: Db, member: string, lead: string | null): Promise<number> {
  return (await db`update notice set read_at = now() where member_id = ${member} and read_at is null ${lead ? db`and lead_id = ${lead}` : db``}`).count
}

export interface ToMail {
  id: string; at: Date; subject: string
  body: { text: string; /** What it says beneath, in notices that name no entry. */ lines?: { label: string; text: string }[]; /** The entry whose meeting it tells of. */ meeting?: string }
  /** What the entry says of which it tells. */
  answers: Answers | null; questions: Question[] | null
  leadId: string; leadEmail: string | null; label: string | null; toName: string; toEmail: string
}
/**
 * Takes some notices to be mailed, the oldest first, with all that their mails say. Nobody else gets them until the time
 * is over, after which they come again: whoever had them may have died.
 */
export const noticesToMail = (db: Db, most: number, seconds: number) => db<ToMail[]>`
  with taken as (
    update notice set mail_at = now() + ${seconds} * interval '1 second'
    where id in (select id from notice where mail_at <= now() order by mail_at limit ${most} for update skip locked) returning *)
  select n.id, n.at, n.subject, n.body, e.answers, d.definition -> 'questions' as questions, l.id as lead_id, l.email as lead_email, b.name as label, m.name as to_name, m.email as to_email
  from taken n join lead l on l.id = n.lead_id join member m on m.id = n.member_id left join label b on b.key = l.label
    left join entry e on e.id = coalesce((n.body ->> 'entry')::uuid, n.id) left join edition d on d.id = e.edition_id order by n.at`
export const markMailed = (db: Db, ids: string[]) => db`update notice set mailed_at = now(), mail_at = null where id = any(${ids}::uuid[])`
/** To be tried again after some time. */
export const postponeMails = (db: Db, ids: string[], seconds: number) => db`update notice set mail_at = now() + ${seconds} * interval '1 second' where id = any(${ids}::uuid[])`
