import type { More, Speaker } from '#core/chat/lines'

/** The five heaps of conversations, as somebody of us sees them. */
export const HEAPS = ['nobody', 'mine', 'others', 'flow', 'ended'] as const
export type Heap = (typeof HEAPS)[number]

/** Whether somebody of us is there: at work and free, with as many conversations as they can lead, or not at work. */
export const PRESENCES = ['here', 'busy', 'gone'] as const
export type Presence = (typeof PRESENCES)[number]
/** Who leads so many at once is busy. */
export const MANY = 3

/** A conversation in a list. Moments as ISO 8601. */
export interface ConversationItem {
  id: string
  point: { id: string; name: string }
  state: 'flow' | 'waiting' | 'talking' | 'ended'
  lead: { id: string; name: string } | null
  member: string | null
  beganAt: string
  lastAt: string
  askedAt: string | null
  dueAt: string | null
  answeredAt: string | null
  rating: number | null
  /** Lines that none of us has read. */
  unread: boolean
  last: { by: Speaker; text: string } | null
  page: string | null
  /** The lane of the plan whose people are to take it, by its name. */
  pool: string | null
}
export interface ConversationsView {
  heaps: Record<Heap, number>
  rows: ConversationItem[]
  presence: { member: string; presence: Presence; with: number }[]
}

/** A line as we see it. */
export interface TeamLine {
  n: number
  id: string
  at: string
  by: Speaker
  member: string | null
  text: string
  more: More | null
  isNote: boolean
}
export interface ConversationView extends ConversationItem {
  lines: TeamLine[]
  seenByVisitor: number
  ratingText: string | null
  /** What was answered in it, in words. */
  answers: { question: string; answer: string }[]
  edition: number
  language: string
  /** The visitor's browser, of one that agreed. */
  visitor: string | null
}
