import type { NoticeTexts } from '#core/telling/worded'
import type { Db, Tx } from '#db/client'

/** What members are told at once, whatever they wish, and in which words. */
export const tellingOfHouse = async (db: Db): Promise<{ insists: string[]; noticeTexts: NoticeTexts }> =>
  (await db<{ insists: string[]; noticeTexts: NoticeTexts }[]>`select insists, notice_texts from house`)[0] ?? {
    insists: [],
    noticeTexts: {},
  }
export const setNoticeTexts = (db: Db, texts: NoticeTexts) => db`update house set notice_texts = ${texts as never}::jsonb`
export const setInsists = (db: Db, topics: string[]) => db`update house set insists = ${topics}`

export interface TogetherRow {
  id: string
  memberId: string
  email: string
  name: string
  at: Date
  subject: string
  leadId: string | null
}
/** What is to go out together by now, member by member; nobody else gets it. */
export const dueTogether = (tx: Tx, now: Date, most: number) => tx<TogetherRow[]>`
  select d.id, d.member_id, m.email, m.name, d.at, d.subject, d.lead_id from delivery d join member m on m.id = d.member_id
  where d.together_at <= ${now} and d.sent_at is null and d.dropped is null and m.active order by d.member_id, d.at limit ${most} for update of d skip locked`
/** What goes out in a mail with others is not sent by itself. */
export const wentTogether = (tx: Tx, ids: string[]) => tx`update delivery set dropped = 'together' where id = any(${ids}::uuid[])`
/** One mail that says several things; the bell has them already. */
export const insertSummary = (
  tx: Tx,
  s: { id: string; member: string; to: string; name: string; subject: string; body: string; lines: { label: string; text: string }[] },
) => tx`
  insert into delivery (id, kind, channel, at, due_at, member_id, recipient, recipient_name, subject, body, lines, is_summary, read_at)
  values (${s.id}, 'notice', 'mail', now(), now(), ${s.member}, ${s.to}, ${s.name}, ${s.subject}, ${s.body}, ${s.lines as never}, true, now())`
