import type { Case } from '#core/capture/case'
import { mailboxOf } from '#core/identity/email'
import type { Goal } from '#core/points/letters'
import type { Db, Statement, Tx } from '#db/client'

/** Writes the letters of entries down, in the transaction of the entries. */
export function insertLetters(tx: Db, cases: Case[]): Statement[] {
  const rows = cases.flatMap(c => c.letters.map(l => ({
    id: l.id, lead_id: c.lead.id, entry_id: c.intake.entryId, kind: l.kind, subject: l.subject, body: l.text, days: l.days, goal: l.goal, unless_followed: l.unlessFollowed, due_at: l.due === null ? null : new Date(l.due).toISOString(),
    recipient: l.recipient, recipient_key: mailboxOf(l.recipient), claim_id: l.claim, sender: c.intake.sender,
  })))
  return rows.length ? [tx`insert into letter (id, lead_id, entry_id, kind, subject, body, days, goal, unless_followed, due_at, recipient, recipient_key, claim_id, sender)
    select id, lead_id, entry_id, kind, subject, body, days, goal, unless_followed, due_at, recipient, recipient_key, claim_id, decode(sender, 'hex')
      from jsonb_to_recordset(${rows as never}::jsonb)
      as r(id uuid, lead_id uuid, entry_id uuid, kind text, subject text, body text, days int, goal jsonb, unless_followed boolean, due_at timestamptz, recipient text, recipient_key text, claim_id uuid, sender text)`] : []
}

/** Writes a reminder of something unfinished. It counts as a mail that nobody asked for at once. */
export const insertReminder = (tx: Tx, r: { id: string; lead: string; unfinished: string; recipient: string; subject: string; text: string }) => tx`
  insert into letter (id, lead_id, unfinished_id, kind, subject, body, days, due_at, recipient, recipient_key)
  values (${r.id}, ${r.lead}, ${r.unfinished}, 'letter', ${r.subject}, ${r.text}, 1, now(), ${r.recipient}, ${mailboxOf(r.recipient)})`

export interface DueLetter {
  id: string; leadId: string; entryId: string | null; kind: 'confirm' | 'letter' | 'meeting'; subject: string; body: string; days: number
  tries: number; recipient: string; recipientKey: string; claimId: string | null; sender: Buffer | null; known: boolean; leftAt: Date | null
  /** One of the mails of the same entry had its link followed, and this one is for those who did not; or what it reminds of was finished. */
  done: boolean
}
/** Letters that are due, locked; those in another worker's hands are passed over. */
export const dueLetters = (tx: Tx, most: number) => tx<DueLetter[]>`
  select t.id, t.lead_id, t.entry_id, t.kind, t.subject, t.body, t.days, t.tries, t.recipient, t.recipient_key, t.claim_id, t.sender, l.left_at, coalesce(t.recipient = l.email and l.confirmed_at is not null, false) as known,
    t.unless_followed and exists (select from letter o where o.entry_id = t.entry_id and o.followed_at is not null)
      or exists (select from unfinished u where u.id = t.unfinished_id and u.finished_at is not null) as done
  from letter t join lead l on l.id = t.lead_id
  where t.sent_at is null and t.dropped is null and t.due_at <= now() and t.recipient is not null order by t.due_at limit ${most} for update of t skip locked`

/** How many letters went out within the last hour: to one mailbox, to addresses of a domain that nobody has confirmed, and on behalf of one sender. */
export async function lettersLately(tx: Db, letter: Pick<DueLetter, 'recipientKey' | 'sender'>): Promise<{ mailbox: number; domain: number; sender: number }> {
  const domain = letter.recipientKey.slice(letter.recipientKey.lastIndexOf('@'))
  const [row] = await tx<{ mailbox: number; domain: number; sender: number }[]>`
    select count(*) filter (where t.recipient_key = ${letter.recipientKey}) as mailbox,
      count(*) filter (where right(t.recipient_key, ${domain.length}) = ${domain}
        and not exists (select from lead l where l.id = t.lead_id and l.confirmed_at is not null and l.email = t.recipient)) as domain,
      count(*) filter (where t.sender = ${letter.sender}) as sender
    from letter t where t.sent_at > now() - interval '1 hour'`
  return row!
}

/** It went out: what is kept of it opens nothing any more. */
export const letterSent = (tx: Db, id: string, body: string) => tx`update letter set sent_at = now(), body = ${body} where id = ${id}`
export const dropLetter = (tx: Db, id: string, why: string) => tx`update letter set dropped = ${why} where id = ${id}`
/** Comes again when an hour's allowance begins anew. */
export const holdLetter = (tx: Db, id: string, minutes: number) => tx`update letter set due_at = now() + ${minutes} * interval '1 minute' where id = ${id}`
/** On whose behalf something went out is forgotten after a day. */
export const forgetSenders = (db: Db) => db`update letter set sender = null
  where sender is not null and coalesce(sent_at, due_at, now() - interval '2 days') < now() - interval '1 day'`
/** Tries again later, longer each time, for about two days; then gives up. */
export const postponeLetter = (tx: Db, id: string, tries: number) => tries >= 40
  ? dropLetter(tx, id, 'could not be handed over')
  : tx`update letter set tries = tries + 1, due_at = now() + ${Math.min(3600, 5 * 2 ** Math.min(tries, 10))} * interval '1 second' where id = ${id}`

export interface LetterOf {
  leadId: string; recipient: string
  /** When this address was confirmed. */
  confirmedAt: Date | null
  leftAt: Date | null; kind: string; editionId: string | null; entryId: string | null; visitorId: string | null; claimId: string | null
  point: string | null; at: Date | null
  /** It went to the address that the lead has. */
  own: boolean
}
export async function letterById(db: Db, id: string): Promise<LetterOf | undefined> {
  return (await db<LetterOf[]>`select t.lead_id, t.recipient, case when t.claim_id is null then l.confirmed_at else c.confirmed_at end as confirmed_at, l.left_at, t.kind, e.edition_id, e.id as entry_id, e.visitor_id, t.claim_id, p.name as point, e.at, coalesce(t.recipient = l.email, false) as own
    from letter t join lead l on l.id = t.lead_id left join entry e on e.id = t.entry_id left join point p on p.id = e.point_id
      left join claimed_address c on c.id = t.claim_id
    where t.id = ${id} and t.recipient is not null`)[0]
}

/** What waited until a lead's own address is confirmed goes out. */
export const releaseOwn = (tx: Tx, lead: string, at: Date) => tx`update letter set due_at = ${at}::timestamptz + days * interval '1 day'
  where lead_id = ${lead} and claim_id is null and due_at is null and sent_at is null and dropped is null`

/** Of who wants no more mail nothing that waits goes out. */
export const dropWaiting = (tx: Tx, lead: string) => tx`update letter set dropped = 'left'
  where lead_id = ${lead} and sent_at is null and dropped is null and kind = 'letter'`

/** Where the link of a letter leads, and whose it is. */
export async function goalOf(db: Db, id: string): Promise<{ leadId: string; goal: Goal | null; subject: string; followedAt: Date | null } | undefined> {
  return (await db<{ leadId: string; goal: Goal | null; subject: string; followedAt: Date | null }[]>`select lead_id, goal, subject, followed_at from letter where id = ${id}`)[0]
}
/** The link was followed. @returns false when it had been before */
export async function followed(db: Db, id: string, at: Date): Promise<boolean> {
  return (await db`update letter set followed_at = ${at} where id = ${id} and followed_at is null`).count === 1
}
