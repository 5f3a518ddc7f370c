import type { Intake, ReviewReason } from '#core/capture/intake'
import type { Shut } from '#core/points/refusals'
import type { PersonKey } from '#core/identity/same-person'
import type { Step } from '#core/leads/book'
import type { Written } from '#core/points/written'

/** An entry that is kept, but has come to nobody yet. */
export interface ForReview {
  intake: Intake
  state: 'held' | 'refused'
  reason: ReviewReason
}

/** An entry that came when its point took none: nothing of it is kept. */
export interface TooLate {
  intake: Intake
  closed: Shut
}

/** The ways an entry tells who its sender is, the point's own rule first. */
export const whoOf = (i: Pick<Intake, 'email' | 'known'>): PersonKey[] => [
  ...(i.known ? [i.known] : []),
  ...(i.email ? [{ rule: 'email', key: i.email.key }] : []),
]

/** An entry on its way through the house, and what has come of it so far. */
export interface Case extends Step {
  intake: Intake
  /** Whether the person was here before this entry. */
  known: boolean
  /** The address that came along, where it is claimed and nobody has judged it. */
  claim: { id: string; address: string; key: string; isNew: boolean; wasAsked: boolean } | null
  /** Whom mails about this entry go to; null: nobody. */
  recipient: string | null
  consents: Agreed[]
  mails: Written[]
  /** What the owner is told. */
  announcement: Announcement | null
  /** What colleagues beside the owner are told. */
  notified: (Announcement & { id: string })[]
}

/** Words that were agreed to in an entry, and the mails they allow. */
export interface Agreed {
  question: string
  words: string
  allows: string[]
}

/** What the owner is told. */
export interface Announcement {
  to: string
  subject: string
  text: string
}
