import type { Language } from '#core/languages/language'
import type { PersonKey } from '#core/identity/same-person'
import type { Answers, PointDefinition } from '#core/points/definition'
import type { PropertyValue } from '#core/properties/kinds'
import type { Judged } from '#core/quiz/judge'

/** An entry that has been received and guarded: what came in, and the edition it answers. */
export interface Intake {
  entryId: string
  at: number
  point: { id: string; key: string; slug: string; name: string }
  edition: { id: string; number: number; definition: PointDefinition }
  /** The one of its languages that it was answered in. */
  language: Language
  /** Exactly as typed, of the questions that were asked. */
  answers: Answers
  /** The same as properties keep them. */
  values: Record<string, PropertyValue>
  /** What a quiz made of them; of a form nothing. */
  judged: Judged | null
  /** What came along with file questions. */
  files: IncomingFile[]
  /** Null where the point knows people by something else, and they gave none. */
  email: { address: string; key: string } | null
  /** Who they are by the point's own rule, where that is not the address. */
  known: PersonKey | null
  page: string | null
  referrer: string | null
  utm: Record<string, string>
  visitor: string | null
  /** A fingerprint of the network that it was sent from; null where none is known. */
  sender: string | null
  /** What was kept of it while it was typed. */
  unfinished: string | null
  /** What was kept of it when the quiz was finished, before they said who they are. */
  finished: string | null
  /** Which variant they answered, in an experiment of several. */
  tried: { experiment: string; variant: string } | null
  via: Via
  /** The landing page that the point stood on, when it was one of ours. */
  landing: string | null
  /** From the first sight of the form to sending it, in ms, as the browser says; null when it does not. */
  tookMs: number | null
  /** Why a guard sets this entry aside before anybody looks who it is; null when none does. */
  suspect: ReviewReason | null
  idempotencyKey: string | null
  fingerprint: string
}

/** A file that came with an entry, looked into. `content` is null when it is kept already. */
export interface IncomingFile {
  id: string
  question: string
  name: string
  type: string
  size: number
  sha256: string
  content: Uint8Array | null
}

/** The copy of a point that an entry came through. */
export type Via = 'script' | 'page' | 'plain' | 'frame' | 'program' | 'archive'

/** Why an entry is not taken in at once: a field that only machines fill, a form filled in faster than anybody reads, a site it may not come from, no proof of work where one is asked for, somebody we do not know yet; each entry of the point waits, or this one does by what it says. */
export type ReviewReason = 'trap' | 'too_fast' | 'origin' | 'unproven' | 'unknown_person' | 'every_one' | 'condition'
