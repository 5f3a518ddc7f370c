import { MANY, type ConversationItem, type ConversationView, type Presence, type TeamLine } from '#core/chat/team'
import { nameOf } from '#core/leads/lead'
import { answerText } from '#core/points/definition'
import { may } from '#core/roles'
import type { Lane } from '#core/routing/plan'
import { isThere } from '#core/routing/colleagues'
import { conversationById, conversationRow, messagesAfter, openByMember, type ConversationRow, type Message } from '#db/conversations'
import { editionById } from '#db/points'
import type { Db } from '#db/client'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

const iso = (at: Date | null) => at?.toISOString() ?? null

export const itemOf = (row: ConversationRow, lanes: readonly Pick<Lane, 'key' | 'name'>[]): ConversationItem => ({
  id: row.id,
  point: { id: row.pointId, name: row.point },
  state: row.state,
  lead:
    row.leadId === null
      ? null
      : { id: row.leadId, name: nameOf({ firstName: row.firstName, lastName: row.lastName, email: row.email, properties: {} }) },
  member: row.memberId,
  beganAt: row.beganAt.toISOString(),
  lastAt: row.lastAt.toISOString(),
  askedAt: iso(row.askedAt),
  dueAt: iso(row.dueAt),
  answeredAt: iso(row.answeredAt),
  rating: row.rating,
  unread: row.last > row.seenByUs && row.state !== 'ended' && row.state !== 'flow',
  last: row.lastBy === null ? null : { by: row.lastBy, text: (row.lastText ?? '').slice(0, 200) },
  page: row.page,
  pool: lanes.find(l => l.key === row.pool)?.name ?? null,
})

const lineOf = ({ n, id, at, by, memberId, text, more, isNote }: Message): TeamLine => ({
  n,
  id,
  at: at.toISOString(),
  by,
  member: memberId,
  text,
  more,
  isNote,
})

/** Who of us is there, and leads how many. */
export async function presenceOf(db: Db, ruleset: Ruleset, at: number): Promise<{ member: string; presence: Presence; with: number }[]> {
  const open = await openByMember(db)
  return [...ruleset.members.values()]
    .filter(m => may(m.role, 'work leads'))
    .map(m => {
      const count = open.get(m.id) ?? 0
      return { member: m.id, presence: !isThere(m, at) ? 'gone' : count >= MANY ? 'busy' : 'here', with: count }
    })
}

/** A conversation as one of us reads it. @throws 404 */
export async function conversationView(id: string): Promise<ConversationView> {
  const { sql, cache } = applicationContext()
  const [c, row, { plan }] = await Promise.all([conversationById(sql, id), conversationRow(sql, id), cache.ruleset()])
  if (!c || !row) throw problem(404, 'This conversation is not there any more.')
  const [lines, edition] = await Promise.all([messagesAfter(sql, id, 0, true), editionById(sql, c.editionId)])
  const questions = edition?.definition.questions ?? []
  return {
    ...itemOf(row, plan.lanes),
    lines: lines.map(lineOf),
    seenByVisitor: c.seenByVisitor,
    ratingText: c.ratingText,
    answers: questions.flatMap(q =>
      Object.hasOwn(c.place.answers, q.key) && c.place.answers[q.key]!.length
        ? [{ question: q.label, answer: answerText(q, c.place.answers[q.key]!) }]
        : [],
    ),
    edition: edition?.number ?? 0,
    language: c.language ?? edition?.definition.language ?? 'en',
    visitor: c.visitorId,
  }
}
