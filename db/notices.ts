import type { Db } from '#db/client'

export interface Notice {
  id: string
  leadId: string | null
  /** What is about many at once, is about whom of a list. */ listId: string | null
  at: Date
  subject: string
  readAt: Date | null
}

/** What the bell shows a member: the newest notices, and how many are unread. */
export async function bell(db: Db, member: string, most: number): Promise<{ unread: number; notices: Notice[] }> {
  const [[count], notices] = await Promise.all([
    db<{ unread: number }[]>`select count(*) as unread from delivery where member_id = ${member} and read_at is null and not is_summary`,
    db<
      Notice[]
    >`select id, lead_id, list_id, at, subject, read_at from delivery where member_id = ${member} and not is_summary order by at desc, id desc limit ${most}`,
  ])
  return { unread: count!.unread, notices }
}

/** Marks what a member has seen: everything, what concerns one lead or list, or one notice. */
export async function markRead(db: Db, member: string, about: { lead?: string; list?: string; notice?: string }): Promise<number> {
  return (
    await db`update delivery set read_at = now() where member_id = ${member} and read_at is null ${about.lead ? db`and lead_id = ${about.lead}` : about.list ? db`and list_id = ${about.list}` : about.notice ? db`and id = ${about.notice}` : db``}`
  ).count
}
