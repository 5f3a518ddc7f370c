import type { Chat } from '#core/chat/chat'
import { BEGINNING } from '#core/chat/run'
import { asMessage, MOST_LINES, type More, type Speaker } from '#core/chat/lines'
import type { Language } from '#core/languages/language'
import { sayIn } from '#core/languages/say'
import { answerText, type Answer, type PointDefinition } from '#core/points/definition'
import type { Tx } from '#db/client'
import type { Conversation, Message } from '#db/conversations'
import type { Edition, Point } from '#db/points'
import type { Talker } from '#server/chat/around'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

/** A conversation in hand: as it stands, and what is added to it. It is locked. */
export interface Talk {
  tx: Tx
  c: Conversation
  added: Message[]
  edition: Edition
  /** In the language of the conversation. */
  definition: PointDefinition
  chat: Chat
  point: Pick<Point, 'id' | 'key' | 'name'>
  language: Language
  talker: Talker
  ruleset: Ruleset
  at: number
  /** What has to be told of once it is written. */
  tells: { leads: string[]; notes?: boolean }
  /** What its lead's own story is to say of it, once it is written. */
  story: { what: 'answered' | 'ended' | 'rated'; by: string | null; rating?: number; words?: string }[]
  /** More was answered after the answers were taken in. */
  saidMore: boolean
  /** What a sender is held to have. */
  sender: string | null
}

/** Adds a line. */
export function push(
  talk: Pick<Talk, 'c' | 'added' | 'at'>,
  by: Speaker,
  text: string,
  more: More | null = null,
  own: { id?: string; member?: string; isNote?: boolean } = {},
): void {
  const { c } = talk
  c.last++
  c.lastAt = new Date(talk.at)
  talk.added.push({
    conversationId: c.id,
    n: c.last,
    id: own.id ?? newId(talk.at),
    at: new Date(talk.at),
    by,
    memberId: own.member ?? null,
    text: text.slice(0, 4000),
    more,
    isNote: own.isNote ?? false,
  })
}

/** An answer in the words of its question. */
export function inWords({ definition, language }: Talk, key: string, answer: Answer): string {
  const q = definition.questions.find(o => o.key === key)
  if (!q) return [answer].flat().join(', ')
  return q.kind === 'consent' ? (answer.length ? sayIn(language)('yes') : '') : answerText(q, answer, language)
}

/** What somebody wrote, fit to be kept. @throws 422 when there is nothing, or too much */
export function messageText(plain: string, most: number): string {
  const text = asMessage(plain)
  if (!text) throw problem(422, 'Write something first.', [{ field: 'text', message: 'Write something first.' }])
  if ([...text].length > most)
    throw problem(422, `A message holds ${most} letters; this one has ${[...text].length}. Send it in parts.`, [
      { field: 'text', message: `At most ${most} letters.` },
    ])
  return text
}

/** @throws 409 when nothing more fits into a conversation */
export function refuseFull({ c, language }: Talk): void {
  if (c.last >= MOST_LINES) throw problem(409, sayIn(language)('chatFull'))
}

type Begun = 'pointId' | 'editionId' | 'secret' | 'beganBy' | 'language'
/** A conversation in which nothing was said yet. @param at when it begins, in ms since 1970 @param own what is known of it */
export const freshConversation = (at: number, own: Pick<Conversation, Begun> & Partial<Conversation>): Conversation => ({
  id: newId(at),
  visitorId: null,
  leadId: null,
  entryId: null,
  memberId: null,
  state: 'flow',
  beganAt: new Date(at),
  place: BEGINNING,
  page: null,
  last: 0,
  lastAt: new Date(at),
  seenByVisitor: 0,
  seenByUs: 0,
  askedAt: null,
  dueAt: null,
  answeredAt: null,
  answeredBy: null,
  endedAt: null,
  rating: null,
  ratingText: null,
  mailed: 0,
  pool: null,
  ...own,
})
