import type { Condition } from '#core/conditions/condition'
import type { LikeBy } from '#core/identity/likeness'
import type { ClaimToJudge } from '#core/team'
import type { PropertyValue } from '#core/properties/kinds'

/** What waits for a person's judgement, as the team's screens show it. */

/** Why a person did not take an entry in, to choose from; anything else is said in words. */
export const REFUSALS = [
  'Advertising, or nonsense',
  'A test of ours',
  'Not somebody we can help',
  'Already a customer, goes another way',
] as const
export const MOST_WHY = 300

/** An entry that was held or refused. */
export interface ReviewedEntry {
  kind: 'entry'
  id: string
  at: string
  state: 'held' | 'refused'
  /** What set it aside. */
  reason: string
  /** Which entries the point holds, and how the questions that this asks of are called. */
  holds: { when: Condition; questions: { key: string; label: string; choices: { value: string; text: string }[] }[] } | null
  point: string
  pointId: string
  edition: number
  email: string | null
  page: string | null
  answers: { question: string; text: string }[]
  /** Who of us refused it, or lets it in, and why it could not be. */
  judged: { by: string | null; at: string; why: string | null } | null
  /** It is let in at this moment. */
  letInAt: string | null
}

/** A lead in a few words. */
export interface BriefView {
  id: string
  name: string
  email: string | null
  company: string | null
  fit: number
  interest: number
  label: string | null
  owner: string | null
}

/** Two leads that may be one person. */
export interface LikelyPair {
  kind: 'pair'
  /** Both ids, the smaller first. */
  id: string
  at: string
  strength: number
  reasons: { by: LikeBy; what?: string }[]
  leads: [BriefView, BriefView]
}

export type ReviewItem = ReviewedEntry | LikelyPair | ({ kind: 'claim'; at: string } & ClaimToJudge)

export interface ReviewList {
  items: ReviewItem[]
  /** How many wait, shown or not; what was refused does not. */
  waiting: number
}

/** What waits for somebody: of an entry, that it is held and not on its way in. */
export const isWaiting = (item: ReviewItem): boolean => item.kind !== 'entry' || (item.state === 'held' && item.letInAt === null)

/** One of two leads that are compared. */
export interface ComparedLead extends BriefView {
  createdAt: string
  updatedAt: string
  /** What hangs on it. */
  holds: { entries: number; visits: number; mails: number; notes: number; lists: string[]; tags: string[] }
  isUnsubscribed: boolean
}

/** One line of two leads side by side: what each says, in words; null where one says nothing. */
export interface ComparedLine {
  /** The property's key, `owner`, `status` or `next_step`. */
  what: string
  label: string
  values: [PropertyValue | null, PropertyValue | null]
  texts: [string | null, string | null]
  isSame: boolean
}

export interface Comparison {
  leads: [ComparedLead, ComparedLead]
  lines: ComparedLine[]
  /** Which of the two would stay: 0 or 1. */
  stays: 0 | 1
  strength: number | null
  reasons: { by: LikeBy; what?: string }[]
}

const BY: Record<LikeBy, (what?: string) => string> = {
  phone: what => (what ? `the same number, ${what}` : 'the same number'),
  name_firm: () => 'the same name at the same firm',
  mailbox: () => 'addresses that end in the same mailbox',
  address: () => 'addresses that differ by little',
}
/** By what two are alike, in words. */
export const alikeInWords = (reasons: { by: LikeBy; what?: string }[]): string => {
  const said = reasons.map(r => BY[r.by](r.what))
  return said.length < 2 ? (said[0] ?? '') : `${said.slice(0, -1).join(', ')} and ${said.at(-1)}`
}

/** A lead that went into another. */
export interface MergeView {
  id: string
  name: string
  email: string | null
  at: string
  by: string | null
}
