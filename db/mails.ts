import type { Case } from '#core/capture/case'
import { mailboxOf } from '#core/identity/email'
import type { Goal } from '#core/points/mails'
import type { Db, Statement, Tx } from '#db/client'

/** Writes the mails of entries down, in the transaction of the entries. */
export function insertMails(tx: Db, cases: Case[]): Statement[] {
  const rows = cases.flatMap(c => c.mails.map(l => ({
    id: l.id, lead_id: c.lead.id, entry_id: c.intake.entryId, kind: l.kind, subject: l.subject, body: l.text, days: l.days, goal: l.goal, unless_clicked: l.unlessClicked, due_at: l.due === null ? null : new Date(l.due).toISOString(),
    recipient: l.recipient, recipient_key: mailboxOf(l.recipient), claim_id: l.claim, sender: c.intake.sender,
  })))
  return rows.length ? [tx`insert into mail (id, lead_id, entry_id, kind, subject, body, days, goal, unless_clicked, due_at, recipient, recipient_key, claim_id, sender)
    select id, lead_id, entry_id, kind, subject, body, days, goal, unless_clicked, due_at, recipient, recipient_key, claim_id, decode(sender, 'hex')
      from jsonb_to_recordset(${rows as never}::jsonb)
      as r(id uuid, lead_id uuid, entry_id uuid, kind text, subject text, body text, days int, goal jsonb, unless_clicked boolean, due_at timestamptz, recipient text, recipient_key text, claim_id uuid, sender text)`] : []
}

/** Writes a reminder of something unfinished. It counts as a mail that nobody asked for at once. */
export const insertReminder = (tx: Tx, r: { id: string; lead: string; unfinished: string; recipient: string; subject: string; text: string }) => tx`
  insert into mail (id, lead_id, unfinished_id, kind, subject, body, days, due_at, recipient, recipient_key)
  values (${r.id}, ${r.lead}, ${r.unfinished}, 'mail', ${r.subject}, ${r.text}, 1, now(), ${r.recipient}, ${mailboxOf(r.recipient)})`

export interface DueMail {
  id: string; leadId: string; entryId: string | null; kind: 'confirm' | 'mail' | 'meeting'; subject: string; body: string; days: number
  tries: number; recipient: string; recipientKey: string; claimId: string | null; sender: Buffer | null; known: boolean; unsubscribedAt: Date | null
  /** One of the mails of the same entry had its link followed, and this one is for those who did not; or what it reminds of was finished. */
  done: boolean
}
/** Mails that are due, locked; those in another worker's hands are passed over. */
export const dueMails = (tx: Tx, most: number) => tx<DueMail[]>`
  select t.id, t.lead_id, t.entry_id, t.kind, t.subject, t.body, t.days, t.tries, t.recipient, t.recipient_key, t.claim_id, t.sender, l.unsubscribed_at, coalesce(t.recipient = l.email and l.confirmed_at is not null, false) as known,
    t.unless_clicked and exists (select from mail o where o.entry_id = t.entry_id and o.clicked_at is not null)
      or exists (select from unfinished u where u.id = t.unfinished_id and u.finished_at is not null) as done
  from mail t join lead l on l.id = t.lead_id
  where t.sent_at is null and t.dropped is null and t.due_at <= now() and t.recipient is not null order by t.due_at limit ${most} for update of t skip locked`

/** How many mails went out within the last hour: to one mailbox, to addresses of a domain that nobody has confirmed, and on behalf of one sender. */
export async function mailsLately(tx: Db, mail: Pick<DueMail, 'recipientKey' | 'sender'>): Promise<{ mailbox: number; domain: number; sender: number }> {
  const domain = mail.recipientKey.slice(mail.recipientKey.lastIndexOf('@'))
  const [row] = await tx<{ mailbox: number; domain: number; sender: number }[]>`
    select count(*) filter (where t.recipient_key = ${mail.recipientKey}) as mailbox,
      count(*) filter (where right(t.recipient_key, ${domain.length}) = ${domain}
        and not exists (select from lead l where l.id = t.lead_id and l.confirmed_at is not null and l.email = t.recipient)) as domain,
      count(*) filter (where t.sender = ${mail.sender}) as sender
    from mail t where t.sent_at > now() - interval '1 hour'`
  return row!
}

/** It went out: what is kept of it opens nothing any more. */
export const mailSent = (tx: Db, id: string, body: string) => tx`update mail set sent_at = now(), body = ${body} where id = ${id}`
export const dropMail = (tx: Db, id: string, why: string) => tx`update mail set dropped = ${why} where id = ${id}`
/** Comes again when an hour's allowance begins anew. */
export const holdMail = (tx: Db, id: string, minutes: number) => tx`update mail set due_at = now() + ${minutes} * interval '1 minute' where id = ${id}`
/** On whose behalf something went out is forgotten after a day. */
export const forgetSenders = (db: Db) => db`update mail set sender = null
  where sender is not null and coalesce(sent_at, due_at, now() - interval '2 days') < now() - interval '1 day'`
/** Tries again later, longer each time, for about two days; then gives up. */
export const postponeMail = (tx: Db, id: string, tries: number) => tries >= 40
  ? dropMail(tx, id, 'could not be handed over')
  : tx`update mail set tries = tries + 1, due_at = now() + ${Math.min(3600, 5 * 2 ** Math.min(tries, 10))} * interval '1 second' where id = ${id}`

export interface MailOf {
  leadId: string; recipient: string
  /** When this address was confirmed. */
  confirmedAt: Date | null
  unsubscribedAt: Date | null; kind: string; editionId: string | null; entryId: string | null; visitorId: string | null; claimId: string | null
  point: string | null; at: Date | null
  /** It went to the address that the lead has. */
  own: boolean
}
export async function mailById(db: Db, id: string): Promise<MailOf | undefined> {
  return (await db<MailOf[]>`select t.lead_id, t.recipient, case when t.claim_id is null then l.confirmed_at else c.confirmed_at end as confirmed_at, l.unsubscribed_at, t.kind, e.edition_id, e.id as entry_id, e.visitor_id, t.claim_id, p.name as point, e.at, coalesce(t.recipient = l.email, false) as own
    from mail t join lead l on l.id = t.lead_id left join entry e on e.id = t.entry_id left join point p on p.id = e.point_id
      left join claimed_address c on c.id = t.claim_id
    where t.id = ${id} and t.recipient is not null`)[0]
}

/** What waited until a lead's own address is confirmed goes out. */
export const releaseOwn = (tx: Tx, lead: string, at: Date) => tx`update mail set due_at = ${at}::timestamptz + days * interval '1 day'
  where lead_id = ${lead} and claim_id is null and due_at is null and sent_at is null and dropped is null`

/** Of who wants no more mail nothing that waits goes out. */
export const dropWaiting = (tx: Tx, lead: string) => tx`update mail set dropped = 'unsubscribed'
  where lead_id = ${lead} and sent_at is null and dropped is null and kind = 'mail'`

/** Where the link of a mail leads, and whose it is. */
export async function goalOf(db: Db, id: string): Promise<{ leadId: string; goal: Goal | null; subject: string; clickedAt: Date | null } | undefined> {
  return (await db<{ leadId: string; goal: Goal | null; subject: string; clickedAt: Date | null }[]>`select lead_id, goal, subject, clicked_at from mail where id = ${id}`)[0]
}
/** The link was followed. @returns false when it had been before */
export async function markClicked(db: Db, id: string, at: Date): Promise<boolean> {
  return (await db`update mail set clicked_at = ${at} where id = ${id} and clicked_at is null`).count === 1
}
