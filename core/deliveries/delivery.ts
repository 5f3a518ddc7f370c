/** What leaves the house. `notice` tells one of us, the next four go to visitors, `test` and `alert` to members about their own doings. */
export const DELIVERY_KINDS = ['notice', 'confirm', 'mail', 'meeting', 'reminder', 'test', 'alert', 'personal'] as const
export type DeliveryKind = (typeof DELIVERY_KINDS)[number]

/** What each kind is, for those who look after the house. */
export const KIND_WORDS: Record<DeliveryKind, string> = {
  notice: 'to an owner',
  confirm: 'asks to confirm the address',
  mail: 'to a visitor',
  meeting: 'calendar file',
  reminder: 'reminder',
  test: 'of a test entry',
  alert: 'about their account',
  personal: 'from one of us',
}

/** Why something will never go out, and how that is said. Only what we gave up on can be tried again. */
export const DROPPED = {
  'gave up': 'Given up after many tries, or because it was refused for good.',
  unsubscribed: 'They want no more mail.',
  clicked: 'They followed the link of an earlier mail, or finished what this reminds of.',
  'too many': 'This mailbox got five mails within the hour.',
  together: 'It went out in one mail with others, as they wish.',
  'not theirs': 'The address turned out not to be theirs.',
} as const
export type Dropped = keyof typeof DROPPED

/**
 * How a try failed: the other side could not be reached, which says nothing of this delivery; it asked to come again later;
 * or it refused this delivery for good.
 */
export type Failure = 'unreachable' | 'later' | 'refused'

const FIRST_PAUSE_S = 5
const LONGEST_PAUSE_S = 900
/** With the pauses below: for about two days. */
export const MOST_TRIES = 200

/**
 * The one rule of when something that failed is tried again: after pauses that double from 5 s to a quarter of an hour, for
 * about two days. What was refused for good is not tried again (RFC 5321, 4.2.1): asking anew changes nothing.
 * @param tries how many failed, this one counted
 * @returns seconds until the next try; null to give up
 */
export const pauseAfter = (failure: Failure, tries: number): number | null =>
  failure === 'refused' || tries >= MOST_TRIES ? null : Math.min(LONGEST_PAUSE_S, FIRST_PAUSE_S * 2 ** (tries - 1))

/** Where a delivery stands. */
export type DeliveryState = 'sent' | 'in hand' | 'held up' | 'due' | 'later' | 'unconfirmed' | 'given up' | 'dropped' | 'bell'

/** What a row says of where it stands; times in ms since 1970. */
export interface Standing {
  channel: 'mail' | 'chat' | 'bell'
  sentAt: number | null
  dropped: Dropped | null
  leasedUntil: number | null
  dueAt: number | null
  tries: number
}
export function stateOf(d: Standing, now: number): DeliveryState {
  if (d.channel === 'bell') return 'bell'
  if (d.sentAt !== null) return 'sent'
  if (d.dropped) return d.dropped === 'gave up' ? 'given up' : 'dropped'
  if (d.dueAt === null) return 'unconfirmed'
  if (d.leasedUntil !== null && d.leasedUntil > now) return 'in hand'
  if (d.tries > 0) return 'held up'
  return d.dueAt > now ? 'later' : 'due'
}

/** The heaps in which deliveries are looked through. */
export const HEAPS = ['held up', 'given up', 'waiting', 'sent', 'dropped'] as const
export type Heap = (typeof HEAPS)[number]

/** A delivery as those see it who look after the house. Times as ISO 8601. */
export interface DeliveryView {
  id: string
  kind: DeliveryKind
  state: DeliveryState
  recipient: string
  recipientName: string | null
  subject: string
  leadId: string | null
  at: string
  dueAt: string | null
  sentAt: string | null
  triedAt: string | null
  tries: number
  failure: Failure | null
  answer: string | null
  tookMs: number | null
  dropped: Dropped | null
}
/** The state of the outbox, and of what else works in the background. */
export interface DeliveriesView {
  counts: Record<Heap, number>
  deliveries: DeliveryView[]
  /** Where the list goes on; null at its end. */
  more: string | null
  /** Seconds since the worker last said that it lives; null: never. */
  workerS: number | null
  /** The last try that ended well, and the last that did not. */
  last: { sent: { at: string; tookMs: number } | null; failed: { at: string; answer: string; failure: Failure } | null }
  /** Transactions that have been writing for long: what follows leads waits for them. */
  long: { seconds: number; program: string; database: string }[]
  /** What is done by the clock: when it was last done, and what went wrong. */
  tasks: { name: string; at: string | null; problem: string | null }[]
}
