import type { Case } from '#core/capture/case'
import { mailboxOf } from '#core/identity/email'
import type { Language } from '#core/languages/language'
import type { MailLook } from '#core/mails/look'
import type { Goal } from '#core/points/mails'
import type { Db, Statement, Tx } from '#db/client'

/** Writes the mails of entries down, in the transaction of the entries. */
export function insertMails(tx: Db, cases: Case[]): Statement[] {
  const rows = cases.flatMap(c =>
    c.mails.map(l => ({
      id: l.id,
      lead_id: c.lead.id,
      entry_id: c.intake.entryId,
      kind: l.kind,
      at: new Date(c.at).toISOString(),
      subject: l.subject,
      body: l.text,
      days: l.days,
      goal: l.goal,
      unless_clicked: l.unlessClicked,
      due_at: l.due === null ? null : new Date(l.due).toISOString(),
      recipient: l.recipient,
      recipient_key: mailboxOf(l.recipient),
      claim_id: l.claim,
      sender: c.intake.sender,
      from_name: l.from.name || null,
      reply_to: l.from.reply || null,
      look: l.look,
    })),
  )
  return rows.length
    ? [
        tx`insert into delivery (id, lead_id, entry_id, kind, at, subject, body, days, goal, unless_clicked, due_at, recipient, recipient_key, claim_id, sender, from_name, reply_to, look)
    select id, lead_id, entry_id, kind, at, subject, body, days, goal, unless_clicked, due_at, recipient, recipient_key, claim_id, decode(sender, 'hex'), from_name, reply_to, look
      from jsonb_to_recordset(${rows as never}::jsonb)
      as r(id uuid, lead_id uuid, entry_id uuid, kind text, at timestamptz, subject text, body text, days int, goal jsonb, unless_clicked boolean, due_at timestamptz, recipient text, recipient_key text, claim_id uuid, sender text, from_name text, reply_to text, look jsonb)`,
      ]
    : []
}

/** Writes a reminder of something unfinished. It counts as a mail that nobody asked for at once. */
export const insertReminder = (
  tx: Tx,
  r: {
    id: string
    lead: string
    unfinished: string
    recipient: string
    subject: string
    text: string
    look: MailLook
    from: { name: string; reply: string }
  },
) => tx`
  insert into delivery (id, lead_id, unfinished_id, kind, at, subject, body, days, due_at, recipient, recipient_key, from_name, reply_to, look)
  values (${r.id}, ${r.lead}, ${r.unfinished}, 'reminder', now(), ${r.subject}, ${r.text}, 1, now(), ${r.recipient}, ${mailboxOf(r.recipient)}, ${r.from.name || null}, ${r.from.reply || null}, ${r.look as never})`

export interface MailOf {
  leadId: string
  recipient: string
  /** When this address was confirmed. */
  confirmedAt: Date | null
  unsubscribedAt: Date | null
  kind: string
  editionId: string | null
  entryId: string | null
  visitorId: string | null
  claimId: string | null
  point: string | null
  at: Date | null
  /** It went to the address that the lead has. */
  own: boolean
  language: Language
}
export async function mailById(db: Db, id: string): Promise<MailOf | undefined> {
  return (
    await db<
      MailOf[]
    >`select t.lead_id, t.recipient, case when t.claim_id is null then l.confirmed_at else c.confirmed_at end as confirmed_at, l.unsubscribed_at, t.kind, e.edition_id, e.id as entry_id, e.visitor_id, t.claim_id, p.name as point, e.at, coalesce(t.recipient = l.email, false) as own, coalesce(t.look ->> 'language', 'en') as language
    from delivery t join lead l on l.id = t.lead_id left join entry e on e.id = t.entry_id left join point p on p.id = e.point_id
      left join claimed_address c on c.id = t.claim_id
    where t.id = ${id} and t.member_id is null and t.recipient is not null`
  )[0]
}

/** What waited until a lead's own address is confirmed goes out. */
export const releaseOwn = (tx: Tx, lead: string, at: Date) => tx`update delivery set due_at = ${at}::timestamptz + days * interval '1 day'
  where lead_id = ${lead} and member_id is null and claim_id is null and due_at is null and sent_at is null and dropped is null`

/** Of who wants no more mail nothing that waits goes out. */
export const dropWaiting = (tx: Tx, lead: string) => tx`update delivery set dropped = 'unsubscribed'
  where lead_id = ${lead} and member_id is null and sent_at is null and (dropped is null or dropped = 'gave up') and kind in ('mail', 'reminder')`

/** Where the link of a mail leads, and whose it is. */
export async function goalOf(
  db: Db,
  id: string,
): Promise<{ leadId: string; goal: Goal | null; subject: string; clickedAt: Date | null } | undefined> {
  return (
    await db<
      { leadId: string; goal: Goal | null; subject: string; clickedAt: Date | null }[]
    >`select lead_id, goal, subject, clicked_at from delivery where id = ${id}`
  )[0]
}
/** The link was followed. @returns false when it had been before */
export async function markClicked(db: Db, id: string, at: Date): Promise<boolean> {
  return (await db`update delivery set clicked_at = ${at} where id = ${id} and clicked_at is null`).count === 1
}
