import type { ClassConstructor } from '#core/validate'

/** A sentence for the team, in pieces: plain words, what stands out, what stands back, and moments, which each reader sees in their own zone. */
export type Sentence = (string | { strong: string } | { faint: string } | { moment: string })[]

/** What sentences call things by. What is there no more has a name, too. */
export interface Names {
  member: (id: string | null) => string
  label: (key: string | null) => string
  status: (key: string) => string
  /** The list's name; null when there is none any more. */
  list: (id: string) => string | null
  property: (key: string) => string
  /** An amount in the house's currency, given in its smallest unit. */
  money: (amount: number) => string
}

/** What it was that happened, who did it, and what things are called. */
export interface Told {
  names: Names
  /** The name of the member who did it; null: nobody of us. */
  actor: string | null
  /** A kind of cause, where it is known. */
  cause?: string
}

/** One kind of thing that can happen to a lead, with everything about it. A kind without a sentence does not compile. */
export interface EventKind<P extends object> {
  /** The class that checks what is read; a payload is one of it. */
  payload: ClassConstructor<P>
  sentence: (payload: P, told: Told) => Sentence
  /** What stays of it once the person is erased: nothing that says who they were, all that figures count. */
  redacted: (payload: P) => Partial<P>
}

/** Holds the pieces of a kind together. */
export const eventKind = <P extends object>(kind: EventKind<P>): EventKind<P> => kind

/** Who did it, at the beginning of a sentence. */
export const who = ({ actor }: Told): string => actor ?? 'Somebody'

/** Of a page's address what tells pages of a site apart. */
export const pathOf = (page: string): string => page.replace(/^https?:\/\/[^/]+/, '') || '/'
