import type { Intake } from '#core/capture/intake'
import type { Filled } from '#core/events/kinds/brought-in'
import type { ReadAnswers } from '#core/points/answers'
import type { Question } from '#core/points/definition'
import type { PropertyValue } from '#core/properties/kinds'
import type { Activity } from '#core/scoring/score'

/** An address, as it is written and as it is compared. */
export interface Address {
  address: string
  key: string
}
type Read = Pick<ReadAnswers, 'answers' | 'values'>

/** What changes a lead that is there. `lead` is its id. */
export type LeadCause = { at: number; /** The member who did it; null: nobody of us. */ by: string | null; lead: string } &
  /** A visitor corrects what an entry said. */
  (
    | { kind: 'correction'; entry: string; point: string; questions: Question[]; before: Read; after: Read; notice: string }
    /** Known browsers read pages, or did what earns interest. */
    | { kind: 'activities'; activities: Activity[] }
    /** A browser came to them, was taken from them, or was forgotten: all that their browsers did. */
    | { kind: 'browser'; activities: Activity[] }
    | { kind: 'note'; text: string }
    | { kind: 'status'; status: string }
    | { kind: 'owner'; owner: string }
    | { kind: 'next_step'; step: { text: string; due: number } | null; done?: boolean }
    /** On exactly these lists, by hand. */
    | { kind: 'lists'; lists: string[] }
    /** An import has put them on its list, where they were not before (`isNew`) or were. */
    | { kind: 'listed'; list: string; isNew: boolean }
    /** What an import had done to them is taken back, where it is still so: the list by its id, unless they were on it before. */
    | { kind: 'row_undone'; table: string; list: string | null; filled: Filled[]; owner: string | null }
    /** They chose a time, or another one than before (`was`). */
    | { kind: 'meeting'; starts: number; minutes: number; with: string; was?: number; notice: { subject: string; text: string; meeting: string } }
    /** Their own address was confirmed. */
    | { kind: 'confirmed'; address: string }
    /** A claimed address was confirmed, and became theirs where nothing speaks against it. */
    | { kind: 'claim_confirmed'; claim: Address & { at: number }; isNew: boolean; becomes: boolean }
    /** A member says whether a claimed address is theirs. */
    | { kind: 'judged'; claim: Address & { confirmedAt: number | null }; theirs: boolean }
    | { kind: 'vouched' }
    | { kind: 'unsubscribed'; address: string }
    | { kind: 'clicked'; subject: string }
    /** Something of it falls due: interest that fades, a day that ends. */
    | { kind: 'due' }
    /** Another scorecard or plan is live; by rules that ask otherwise than before, interest is earned anew from what was done. */
    | { kind: 'ruleset'; anew?: Anew }
  )

/** What a lead did, for the rules that earn anew. */
export interface Anew {
  rules: ReadonlySet<string>
  activities: Activity[]
}

export type RowOwner = { member: string } | 'plan' | 'nobody'

/** What makes a lead, or finds the one that is meant. */
export type PersonCause = { at: number; by: string | null } & (
  | { kind: 'entry'; intake: Intake }
  /** A row of a table that is brought in; `lead` where they are known. */
  | {
      kind: 'row'
      lead: string | null
      address: Address
      values: Record<string, PropertyValue>
      replace: boolean
      list: string
      /** Who is to answer for them, if nobody does: a member, whoever the plan says, or nobody still. */
      owner: RowOwner
    }
  /** Typed and not sent; `lead` is one that the same typing made before. */
  | { kind: 'typed'; lead: string | null; address: Address; values: Record<string, PropertyValue>; visitor: string }
)

/** Whatever happens to a lead. */
export type Cause = LeadCause | PersonCause

export const STAGES = ['fit', 'label', 'route', 'promise', 'effects'] as const
/**
 * What follows a cause's own part, in this order. fit: the rules on who they are and what they did are judged anew; label: what
 * the score makes of them; route: an owner for who has none; promise: the next step that a point asks for; effects: who is told.
 */
export type Stage = (typeof STAGES)[number]

const JUDGED: Stage[] = ['fit', 'label']

/** Which cause runs which stage: a page that is read routes nobody, an archive mails nobody, a new scorecard labels and nothing more. */
export const RUNS: Record<Cause['kind'], readonly Stage[]> = {
  entry: STAGES,
  correction: [...JUDGED, 'effects'],
  row: [...JUDGED, 'route'],
  listed: JUDGED,
  row_undone: JUDGED,
  typed: JUDGED,
  activities: JUDGED,
  browser: JUDGED,
  note: JUDGED,
  status: JUDGED,
  owner: JUDGED,
  next_step: JUDGED,
  lists: JUDGED,
  meeting: [...JUDGED, 'effects'],
  confirmed: JUDGED,
  claim_confirmed: JUDGED,
  judged: JUDGED,
  vouched: JUDGED,
  unsubscribed: JUDGED,
  clicked: JUDGED,
  due: JUDGED,
  ruleset: JUDGED,
}
