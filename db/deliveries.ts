import { pauseAfter, type DeliveryKind, type Dropped, type Failure, type Heap } from '#core/deliveries/delivery'
import type { MailLook } from '#core/mails/look'
import type { Answers, Question } from '#core/points/definition'
import type { Db, Tx } from '#db/client'

/** A delivery in hand, with all that it says. */
export interface InHand {
  id: string
  kind: DeliveryKind
  tries: number
  subject: string
  body: string
  /** How a mail to a visitor looks, whose body is Markdown; null of what goes to members. */
  look: MailLook | null
  days: number
  recipient: string
  recipientName: string | null
  recipientKey: string | null
  /** As whom it goes, and where replies do; null as the house does. */
  fromName: string | null
  replyTo: string | null
  sender: Buffer | null
  lines: { label: string; text: string }[] | null
  /** The entry whose meeting goes along as a calendar file. */
  meetingOf: string | null
  leadId: string | null
  listId: string | null
  leadEmail: string | null
  label: string | null
  claimId: string | null
  unsubscribedAt: Date | null
  /** What the entry says that a notice tells of. */
  answers: Answers | null
  questions: Question[] | null
  /** Where a message to the member's own chat goes. */
  chat: string | null
  /** It says several things, and is about nobody alone. */
  isSummary: boolean
  /** Its recipient is the confirmed address of its lead. */
  known: boolean
  /** One of the mails of the same entry had its link followed, and this one is for those who did not; or what it reminds of was finished. */
  done: boolean
}

/** Whoever looks how much went out lately holds this; those who send what no visitor gets pass by. */
const COUNTING = 7310040
/** One that was never tried is fresh for so long. */
const FRESH_S = 60

/** Keeps others from counting until the transaction ends. */
export const countAlone = (tx: Tx) => tx`select pg_advisory_xact_lock(${COUNTING})`

/**
 * Takes some that are due; nobody else gets them until their lease is over, after which they come again: whoever had them may have died.
 * @param which `fresh`: what fell due just now and somebody waits for; `oldest`: what waits longest
 * @param lease a new id for this lease
 */
export function leaseSome(
  tx: Tx,
  which: 'fresh' | 'oldest',
  most: number,
  seconds: number,
  lease: string,
  channel: 'mail' | 'chat' = 'mail',
) {
  const fresh =
    which === 'fresh' ? tx`and tries = 0 and due_at > now() - ${FRESH_S} * interval '1 second' and kind not in ('mail', 'reminder')` : tx``
  return tx<InHand[]>`
    with next as (
      select id from delivery where due_at <= now() and channel = ${channel} and sent_at is null and dropped is null and (leased_until is null or leased_until < now())
      ${fresh} order by due_at limit ${most} for update skip locked),
    d as (update delivery set leased_until = now() + ${seconds} * interval '1 second', lease = ${lease} where id in (select id from next) returning *)
    select d.id, d.kind, d.tries, d.subject, d.body, d.look, d.days, d.recipient, d.recipient_name, d.recipient_key, d.from_name, d.reply_to, d.sender, d.lines, d.is_summary, (select m.telling->>'chat' from member m where m.id = d.member_id) as chat,
      case when d.meeting then d.entry_id end as meeting_of, d.lead_id, d.list_id, l.email as lead_email, b.name as label, d.claim_id, l.unsubscribed_at,
      e.answers, v.definition -> 'questions' as questions, coalesce(d.recipient = l.email and l.confirmed_at is not null, false) as known,
      d.unless_clicked and exists (select from delivery o where o.entry_id = d.entry_id and o.clicked_at is not null)
        or exists (select from unfinished u where u.id = d.unfinished_id and u.finished_at is not null) as done
    from d left join lead l on l.id = d.lead_id left join label b on b.key = l.label
      left join entry e on e.id = d.entry_id and d.kind = 'notice' and not d.meeting left join edition v on v.id = e.edition_id
    order by d.due_at`
}

/** Keeps what is in hand. */
export const extendLeases = (db: Db, ids: string[], seconds: number) =>
  db`update delivery set leased_until = now() + ${seconds} * interval '1 second' where id = any(${ids}::uuid[]) and sent_at is null`

/** Lets go of leases of which it is not known whether they came about: the answer was lost on the way. */
export const letGo = (db: Db, leases: string[]) =>
  db`update delivery set leased_until = null, lease = null where lease = any(${leases}::uuid[])`

/**
 * How many mails to visitors went out within the last hour, or are going out now: to one mailbox, to addresses of a domain that
 * nobody has confirmed, and on behalf of one sender.
 * @param behind those that were taken with it and come behind it
 */
export async function mailsLately(
  tx: Db,
  mail: Pick<InHand, 'id' | 'recipientKey' | 'sender'>,
  behind: string[],
): Promise<{ mailbox: number; domain: number; sender: number }> {
  const domain = mail.recipientKey!.slice(mail.recipientKey!.lastIndexOf('@'))
  const lately = tx`sent_at > now() - interval '1 hour'`
  const now = tx`lease is not null and leased_until > now() and id <> all(${[mail.id, ...behind]}::uuid[])`
  const unconfirmed = tx`not exists (select from lead l where l.id = t.lead_id and l.confirmed_at is not null and l.email = t.recipient)`
  const [row] = await tx<{ mailbox: number; domain: number; sender: number }[]>`select
    (select count(*)::int from delivery where recipient_key = ${mail.recipientKey} and ${lately})
      + (select count(*)::int from delivery where recipient_key = ${mail.recipientKey} and ${now}) as mailbox,
    (select count(*)::int from delivery t where substring(recipient_key from '@.*$') = ${domain} and recipient_key is not null and ${lately} and ${unconfirmed})
      + (select count(*)::int from delivery t where substring(recipient_key from '@.*$') = ${domain} and ${now} and ${unconfirmed}) as domain,
    case when ${mail.sender}::bytea is null then 0 else (select count(*)::int from delivery where sender = ${mail.sender} and ${lately})
      + (select count(*)::int from delivery where sender = ${mail.sender} and ${now}) end as sender`
  return row!
}

/** They went out. What is kept of them opens nothing any more. */
export const delivered = (db: Db, done: { id: string; body: string; answer: string; tookMs: number }[]) => db`
  update delivery d set sent_at = now(), tried_at = now(), tries = tries + 1, leased_until = null, lease = null, dropped = null, failure = null, answer = r.answer, took_ms = r.took, body = r.body
  from jsonb_to_recordset(${done.map(({ id, body, answer, tookMs }) => ({ id, body, answer, took: tookMs })) as never}::jsonb) as r(id uuid, body text, answer text, took int) where d.id = r.id`

/** It did not go out: it comes again after a pause, or is given up. What was called off meanwhile stays so. */
export async function notDelivered(
  db: Db,
  d: Pick<InHand, 'id' | 'tries'>,
  failed: { failure: Failure; answer: string; tookMs: number },
): Promise<void> {
  const pause = pauseAfter(failed.failure, d.tries + 1)
  await db`update delivery set tries = tries + 1, tried_at = now(), leased_until = null, lease = null, failure = ${failed.failure}, answer = ${failed.answer}, took_ms = ${failed.tookMs},
      due_at = case when ${pause}::int is null then due_at else now() + ${pause ?? 0} * interval '1 second' end, dropped = coalesce(dropped, case when ${pause}::int is null then 'gave up' end)
    where id = ${d.id} and sent_at is null`
}

/** What waits because the other side could not be reached goes out at once: it can be reached again. */
export const hurry = (db: Db, channel: string) => db`update delivery set due_at = now()
  where channel = ${channel} and due_at > now() and sent_at is null and dropped is null and failure = 'unreachable'`

export const drop = (db: Db, id: string, why: Dropped) =>
  db`update delivery set dropped = ${why}, leased_until = null, lease = null where id = ${id}`
/** Comes again when an hour's allowance begins anew. */
export const hold = (db: Db, id: string, minutes: number) =>
  db`update delivery set due_at = now() + ${minutes} * interval '1 minute', leased_until = null, lease = null where id = ${id}`
/** On whose behalf something went out is forgotten after a day. */
export const forgetSenders = (db: Db) => db`update delivery set sender = null
  where sender is not null and coalesce(sent_at, due_at, now() - interval '2 days') < now() - interval '1 day'`
/** What members were mailed about their own doings is forgotten after a month. */
export const forgetOwn = (db: Db) => db`delete from delivery where lead_id is null and at < now() - interval '30 days'`

/** What a member is mailed about their own doings: of a test entry, or of their account. */
export interface Own {
  id: string
  kind: 'test' | 'alert'
  to: { name: string; address: string }
  subject: string
  text: string
  lines?: { label: string; text: string }[]
  /** It tries a mail to visitors, and looks like it, in whose name it comes. */
  as?: { look: MailLook; name: string; reply: string }
}
export const insertOwn = (db: Db, o: Own) => db`
  insert into delivery (id, kind, at, due_at, recipient, recipient_name, subject, body, lines, look, from_name, reply_to)
  values (${o.id}, ${o.kind}, now(), now(), ${o.to.address}, ${o.to.name}, ${o.subject}, ${o.text}, ${(o.lines ?? null) as never},
    ${(o.as?.look ?? null) as never}, ${o.as?.name || null}, ${o.as?.reply || null})`

export interface DeliveryRow {
  id: string
  kind: DeliveryKind
  channel: 'mail' | 'chat' | 'bell'
  recipient: string | null
  recipientName: string | null
  subject: string
  leadId: string | null
  at: Date
  dueAt: Date | null
  sentAt: Date | null
  triedAt: Date | null
  leasedUntil: Date | null
  tries: number
  failure: Failure | null
  answer: string | null
  tookMs: number | null
  dropped: Dropped | null
  place: string
}
const PENDING = "sent_at is null and dropped is null and channel <> 'bell'"
/** Which rows lie on a heap, and by which moment it is ordered, the newest first. */
const HEAP: Record<Heap, { rows: string; by: string }> = {
  'held up': { rows: `${PENDING} and due_at is not null and tries > 0`, by: 'coalesce(tried_at, at)' },
  'given up': { rows: "dropped is not null and dropped = 'gave up'", by: 'at' },
  waiting: { rows: `${PENDING} and tries = 0`, by: 'at' },
  sent: { rows: 'sent_at is not null', by: 'sent_at' },
  dropped: { rows: "dropped is not null and dropped <> 'gave up'", by: 'at' },
}
/**
 * A page of a heap.
 * @param behind where the page before ended (`place`); null at the beginning
 */
export const deliveriesOn = (db: Db, heap: Heap, behind: { at: string; id: string } | null, most: number) => db<DeliveryRow[]>`
  select id, kind, channel, recipient, recipient_name, subject, lead_id, at, due_at, sent_at, tried_at, leased_until, tries, failure, answer, took_ms, dropped,
    to_char(${db.unsafe(HEAP[heap].by)} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') || ' ' || id as place
  from delivery where ${db.unsafe(HEAP[heap].rows)} ${behind ? db`and (${db.unsafe(HEAP[heap].by)}, id) < (${behind.at}::timestamptz, ${behind.id}::uuid)` : db``}
  order by ${db.unsafe(HEAP[heap].by)} desc, id desc limit ${most}`

/** How many lie on each heap; of those that went out, how many within a day. */
export async function heapCounts(db: Db): Promise<Record<Heap, number>> {
  const [row] = await db<{ heldUp: number; givenUp: number; waiting: number; sent: number; dropped: number }[]>`select
    (select count(*)::int from delivery where ${db.unsafe(HEAP['held up'].rows)}) as held_up, (select count(*)::int from delivery where ${db.unsafe(HEAP['given up'].rows)}) as given_up,
    (select count(*)::int from delivery where ${db.unsafe(HEAP.waiting.rows)}) as waiting, (select count(*)::int from delivery where sent_at > now() - interval '1 day') as sent,
    (select count(*)::int from delivery where ${db.unsafe(HEAP.dropped.rows)}) as dropped`
  return { 'held up': row!.heldUp, 'given up': row!.givenUp, waiting: row!.waiting, sent: row!.sent, dropped: row!.dropped }
}

/** The last that went out, and the last that did not. */
export async function lastTries(
  db: Db,
): Promise<{ sent: { at: Date; tookMs: number } | null; failed: { at: Date; answer: string; failure: Failure } | null }> {
  const [[sent], [failed]] = await Promise.all([
    db<
      { at: Date; tookMs: number }[]
    >`select sent_at as at, coalesce(took_ms, 0) as took_ms from delivery where sent_at is not null order by sent_at desc limit 1`,
    db<{ at: Date; answer: string; failure: Failure }[]>`select tried_at as at, answer, failure from delivery
      where sent_at is null and failure is not null and (dropped is null and due_at is not null or dropped is not null and at > now() - interval '3 days') order by tried_at desc limit 1`,
  ])
  return { sent: sent ?? null, failed: failed ?? null }
}

/** Lets what failed be tried again at once, as if it never had been. @returns what it was; undefined when there is no such delivery */
export async function tryAgain(tx: Tx, id: string): Promise<{ sentAt: Date | null; dropped: Dropped | null; tries: number } | undefined> {
  const [found] = await tx<
    { sentAt: Date | null; dropped: Dropped | null; tries: number }[]
  >`select sent_at, dropped, tries from delivery where id = ${id} for update`
  if (found && !found.sentAt && (found.dropped === 'gave up' || (!found.dropped && found.tries > 0)))
    await tx`update delivery set tries = 0, dropped = null, due_at = now() where id = ${id}`
  return found
}
/** All that was given up is tried again. @returns how many */
export const tryAllAgain = async (db: Db): Promise<number> =>
  (await db`update delivery set tries = 0, dropped = null, due_at = now() where dropped = 'gave up' and sent_at is null`).count
