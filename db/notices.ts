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
  id: string; at: Date; subject: string; body: { text: string; lines: { label: string; text: string }[]; /** The entry whose meeting it tells of. */ meeting?: string }; mailedAt: Date | null
  leadId: string; leadEmail: string | null; label: string | null; toName: string; toEmail: string
}
/** A notice with all that its mail says. */
export async function noticeToMail(db: Db, id: string): Promise<ToMail | undefined> {
  return (await db<ToMail[]>`
    select n.id, n.at, n.subject, n.body, n.mailed_at, l.id as lead_id, l.email as lead_email, b.name as label, m.name as to_name, m.email as to_email
    from notice n join lead l on l.id = n.lead_id join member m on m.id = n.member_id left join label b on b.key = l.label where n.id = ${id}`)[0]
}
export const markMailed = (db: Db, id: string) => db`update notice set mailed_at = now() where id = ${id}`
