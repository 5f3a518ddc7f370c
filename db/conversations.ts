import type { Place } from '#core/chat/run'
import type { Heap } from '#core/chat/team'
import type { More, Speaker } from '#core/chat/lines'
import { written, type Db, type Tx } from '#db/client'

/** What was said between a visitor and us, through a chat. */
export interface Conversation {
  id: string
  pointId: string
  editionId: string
  secret: Buffer
  visitorId: string | null
  leadId: string | null
  entryId: string | null
  memberId: string | null
  state: 'flow' | 'waiting' | 'talking' | 'ended'
  beganAt: Date
  beganBy: BeganBy
  place: Place
  page: string | null
  language: string | null
  last: number
  lastAt: Date
  seenByVisitor: number
  seenByUs: number
  askedAt: Date | null
  dueAt: Date | null
  answeredAt: Date | null
  answeredBy: string | null
  endedAt: Date | null
  rating: number | null
  ratingText: string | null
  /** Up to which line its visitor was mailed what they had not read. */
  mailed: number
  /** The lane whose people are to take it. */
  pool: string | null
}
export const BEGAN_BY = ['tab', 'greeting', 'button', 'page', 'member', 'mail'] as const
export type BeganBy = (typeof BEGAN_BY)[number]

export interface Message {
  conversationId: string
  n: number
  id: string
  at: Date
  by: Speaker
  memberId: string | null
  text: string
  more: More | null
  isNote: boolean
}

export const addConversation = (tx: Tx, c: Conversation) => tx`
  insert into conversation (id, point_id, edition_id, secret, visitor_id, lead_id, entry_id, member_id, state, began_at, began_by,
    place, page, language, last, last_at, seen_by_visitor, seen_by_us, asked_at, due_at, answered_at, answered_by, ended_at, rating, rating_text)
  values (${c.id}, ${c.pointId}, ${c.editionId}, ${c.secret}, ${c.visitorId}, ${c.leadId}, ${c.entryId}, ${c.memberId}, ${c.state}, ${c.beganAt}, ${c.beganBy},
    ${written(c.place)}::jsonb, ${c.page}, ${c.language}, ${c.last}, ${c.lastAt}, ${c.seenByVisitor}, ${c.seenByUs}, ${c.askedAt}, ${c.dueAt}, ${c.answeredAt}, ${c.answeredBy}, ${c.endedAt}, ${c.rating}, ${c.ratingText})`

export const conversationById = async (db: Db, id: string): Promise<Conversation | undefined> =>
  (await db<Conversation[]>`select * from conversation where id = ${id}`)[0]

/** The same, so that nobody else can go on with it meanwhile. */
export const lockConversation = async (tx: Tx, id: string): Promise<Conversation | undefined> =>
  (await tx<Conversation[]>`select * from conversation where id = ${id} for no key update`)[0]

/** Writes a conversation as it stands now. It is locked. */
export const saveConversation = (tx: Tx, c: Conversation) => tx`
  update conversation set lead_id = ${c.leadId}, entry_id = ${c.entryId}, member_id = ${c.memberId}, state = ${c.state}, place = ${written(c.place)}::jsonb, last = ${c.last}, last_at = ${c.lastAt},
    seen_by_visitor = ${c.seenByVisitor}, seen_by_us = ${c.seenByUs}, asked_at = ${c.askedAt}, due_at = ${c.dueAt}, answered_at = ${c.answeredAt}, answered_by = ${c.answeredBy},
    ended_at = ${c.endedAt}, rating = ${c.rating}, rating_text = ${c.ratingText}, mailed = ${c.mailed}, pool = ${c.pool}
  where id = ${c.id}`

export async function addMessages(tx: Tx, messages: Message[]): Promise<void> {
  if (!messages.length) return
  const rows = messages.map(({ conversationId, n, id, at, by, memberId, text, more, isNote }) => ({
    conversation_id: conversationId,
    n,
    id,
    at: at.toISOString(),
    by,
    member_id: memberId ?? undefined,
    text,
    more: more ?? undefined,
    is_note: isNote,
  }))
  await tx`insert into message (conversation_id, n, id, at, by, member_id, text, more, is_note)
    select conversation_id, n, id, at, by, member_id, text, more, coalesce(is_note, false) from jsonb_to_recordset(${written(rows)}::jsonb)
      as r(conversation_id uuid, n int, id uuid, at timestamptz, by text, member_id uuid, text text, more jsonb, is_note boolean)`
}

/** What was said after a line, in its order; without what is among colleagues where it goes to the visitor. */
export const messagesAfter = (db: Db, conversation: string, after: number, withNotes: boolean) => db<Message[]>`
  select * from message where conversation_id = ${conversation} and n > ${after} and (${withNotes} or not is_note) order by n limit 2100`

/** What a visitor gets after a line: what was said up to the conversation's last. */
export const messagesBetween = (db: Db, conversation: string, after: number, last: number) => db<Message[]>`
  select * from message where conversation_id = ${conversation} and n > ${after} and n <= ${last} and not is_note order by n`

/** The last line beside whose text something of a kind stands, that is not among colleagues. */
export const lastOfKind = async (db: Db, conversation: string, kind: More['kind'], upTo: number): Promise<Message | null> =>
  (
    await db<
      Message[]
    >`select * from message where conversation_id = ${conversation} and n <= ${upTo} and not is_note and more->>'kind' = ${kind}
    order by n desc limit 1`
  )[0] ?? null

/** Whether something was sent before, under its id. */
export const wasSent = async (db: Db, conversation: string, id: string): Promise<boolean> =>
  (await db`select from message where conversation_id = ${conversation} and id = ${id}`).length > 0

export { HEAPS, type Heap } from '#core/chat/team'

/** Which conversations lie in a heap, for a member. */
const inHeap = (db: Db, heap: Heap, member: string) =>
  ({
    nobody: db`c.state = 'waiting' and c.member_id is null`,
    mine: db`c.state in ('waiting', 'talking') and c.member_id = ${member}`,
    others: db`c.state in ('waiting', 'talking') and c.member_id <> ${member}`,
    flow: db`c.state = 'flow'`,
    ended: db`c.state = 'ended'`,
  })[heap]

export interface ConversationRow {
  id: string
  point: string
  pointId: string
  state: Conversation['state']
  leadId: string | null
  firstName: string | null
  lastName: string | null
  email: string | null
  memberId: string | null
  beganAt: Date
  lastAt: Date
  askedAt: Date | null
  dueAt: Date | null
  answeredAt: Date | null
  rating: number | null
  last: number
  seenByUs: number
  lastText: string | null
  lastBy: Speaker | null
  page: string | null
  pool: string | null
}

const ROW = (db: Db) => db`
  select c.id, p.name as point, c.point_id, c.state, c.lead_id, l.first_name, l.last_name, l.email, c.member_id, c.began_at, c.last_at, c.asked_at, c.due_at, c.answered_at, c.rating, c.last, c.seen_by_us, c.page, c.pool,
    m.text as last_text, m.by as last_by
  from conversation c join point p on p.id = c.point_id left join lead l on l.id = c.lead_id
  left join lateral (select text, by from message where conversation_id = c.id and text <> '' and not is_note order by n desc limit 1) m on true`

/** The conversations of a heap: who waits for us first, by when they were promised an answer; else who spoke last. In the flow only those in which the visitor did something, of the last day. */
export const conversationRows = (db: Db, heap: Heap, member: string, most: number) => db<ConversationRow[]>`
  ${ROW(db)} where ${inHeap(db, heap, member)} ${heap === 'flow' ? db`and c.last_at > now() - interval '1 day'` : db``}
  order by ${heap === 'ended' || heap === 'flow' ? db`c.last_at desc` : db`(c.answered_at is null) desc, c.due_at nulls last, c.last_at`}, c.id limit ${most}`

/** The conversations of a lead, the latest first. */
export const conversationsOfLead = (db: Db, lead: string) =>
  db<ConversationRow[]>`${ROW(db)} where c.lead_id = ${lead} order by c.began_at desc limit 50`

/** How many lie in each heap, for a member; of those that ended and are with the flow, of the last day. */
export async function heapCounts(db: Db, member: string): Promise<Record<Heap, number>> {
  const [row] = await db<Record<Heap, number>[]>`select
    count(*) filter (where ${inHeap(db, 'nobody', member)}) as nobody, count(*) filter (where ${inHeap(db, 'mine', member)}) as mine,
    count(*) filter (where ${inHeap(db, 'others', member)}) as others, count(*) filter (where ${inHeap(db, 'flow', member)} and c.last_at > now() - interval '1 day') as flow,
    (select count(*) from conversation c where ${inHeap(db, 'ended', member)} and c.last_at > now() - interval '1 day') as ended
    from conversation c where c.state <> 'ended'`
  return row!
}

/** Notes what was read up to, on one side. @returns whether that was news */
export async function noteSeen(db: Db, id: string, by: 'visitor' | 'us', upTo: number): Promise<boolean> {
  const column = by === 'visitor' ? db`seen_by_visitor` : db`seen_by_us`
  return (
    (await db`update conversation set ${column} = least(last, ${upTo}) where id = ${id} and ${column} < least(last, ${upTo})`).count > 0
  )
}

/** Ends what nobody went on with for so long; a conversation in which somebody waits for us does not end by itself. */
export const endStale = (db: Db, before: Date) => db<{ id: string }[]>`
  update conversation set state = 'ended', ended_at = now(), place = jsonb_set(place, '{at}', 'null') where state = 'flow' and last_at < ${before} returning id`

export const conversationRow = async (db: Db, id: string): Promise<ConversationRow | undefined> =>
  (await db<ConversationRow[]>`${ROW(db)} where c.id = ${id}`)[0]

/**
 * Conversations in which one of us said something that was not read where it was said, with whom we can write to; locked. To whom
 * somebody spoke first, and who said nothing, nobody writes.
 * @param before whoever has not read by then what was said before has left
 * @param since what is older was said before there was anybody to write to
 */
export const leftUnread = (tx: Tx, before: Date, since: Date, most: number) => tx<
  (Conversation & { email: string; firstName: string | null; lastName: string | null })[]
>`
  select c.*, l.email, l.first_name, l.last_name from conversation c join lead l on l.id = c.lead_id
  where c.mailed < c.last and c.seen_by_visitor < c.last and c.member_id is not null and c.last_at > ${since} and c.last_at < now()
    and l.email is not null and l.guarded_at is null and l.submitted_at is not null
    and exists (select from message m where m.conversation_id = c.id and m.by = 'visitor')
    and (select max(m.at) from message m where m.conversation_id = c.id and m.n > greatest(c.mailed, c.seen_by_visitor) and m.by = 'member' and not m.is_note) < ${before}
  order by c.last_at limit ${most} for no key update of c skip locked`

/** Whoever led them is not there to any more: they wait for whoever takes them. @returns which */
export const leaveTalks = async (db: Db, member: string): Promise<string[]> =>
  (
    await db<{ id: string }[]>`update conversation set state = 'waiting', member_id = null
    where member_id = ${member} and state in ('waiting', 'talking') returning id`
  ).map(r => r.id)

/** The latest conversation through the same chat with the same person that is not over. */
export const openTalkLike = async (db: Db, { pointId, leadId }: Pick<Conversation, 'pointId' | 'leadId'>): Promise<string | undefined> =>
  (
    await db<{ id: string }[]>`select id from conversation where lead_id = ${leadId} and point_id = ${pointId} and state <> 'ended'
    order by began_at desc limit 1`
  )[0]?.id

/** How many conversations each of us leads. */
export const openByMember = async (db: Db): Promise<Map<string, number>> =>
  new Map(
    (
      await db<
        { memberId: string; n: number }[]
      >`select member_id, count(*) as n from conversation where state in ('waiting', 'talking') and member_id is not null group by 1`
    ).map(r => [r.memberId, r.n]),
  )

/**
 * Conversations in which somebody waits for a member: whom nobody has yet, who was handed to them, or who wrote something new.
 * @param without lanes whose conversations are for others to take
 */
export const waitingFor = (db: Db, member: string, without: string[], most: number) => db<ConversationRow[]>`
  ${ROW(db)} where (c.state = 'waiting' and (c.member_id = ${member} or (c.member_id is null and coalesce(c.pool <> all(${without}), true)))) or (c.state = 'talking' and c.member_id = ${member} and c.last > c.seen_by_us and m.by = 'visitor')
  order by c.due_at nulls last, c.last_at limit ${most}`

export interface TalkBetween extends ConversationRow {
  beganBy: BeganBy
  answeredBy: string | null
  endedAt: Date | null
  ratingText: string | null
  way: string[]
}
/** The conversations that began since a moment, of one chat or of all, the latest first. */
export const talksBetween = (db: Db, since: Date, point: string | null, most: number) => db<TalkBetween[]>`
  select c.id, p.name as point, c.point_id, c.state, c.lead_id, l.first_name, l.last_name, l.email, c.member_id, c.began_at, c.began_by, c.last_at, c.asked_at, c.due_at, c.answered_at, c.answered_by, c.ended_at, c.rating, c.rating_text,
    c.last, c.seen_by_us, c.page, c.pool, c.place -> 'way' as way
  from conversation c join point p on p.id = c.point_id left join lead l on l.id = c.lead_id
  where c.began_at >= ${since} ${point === null ? db`` : db`and c.point_id = ${point}`} order by c.began_at desc, c.id limit ${most}`

/** Lets go of conversations with nobody we know that nobody went on with since a moment. */
export const forgetTalks = (db: Db, before: Date) => db`delete from conversation where lead_id is null and last_at < ${before}`
