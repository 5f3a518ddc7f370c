import type { MergeStates } from '#core/leads/merge'
import type { LeadState } from '#core/leads/lead'
import type { Intake } from '#core/capture/intake'
import type { Filled } from '#core/events/kinds/brought-in'
import type { ReadAnswers } from '#core/points/answers'
import type { Question } from '#core/points/definition'
import type { SentBackWhy } from '#core/events/kinds/sent-back'
import type { UndoneAct } from '#core/events/kinds/undone'
import type { CallResult, Outcome, StepHow } from '#core/follow-up/state'
import type { Undo } from '#core/follow-up/undo'
import type { LeadFile } from '#core/files/lead-file'
import type { Hold } from '#core/scoring/label-held'
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
    /** One of us writes something else down about them; null: nothing. Not their address, which is who they are. */
    | { kind: 'edited'; property: string; value: PropertyValue | null }
    /** One of us writes something down; colleagues named in it are told. */
    | { kind: 'note'; text: string; mentions?: string[]; files?: LeadFile[] }
    /** And writes it anew, or takes it away (null); `of` names the note's event. */
    | { kind: 'note_changed'; of: string; text: string | null; mentions?: string[] }
    /** `outcome`: what has to be said with it; `until`: when it wakes up. */
    | { kind: 'status'; status: string; outcome?: Pick<Outcome, 'reason' | 'value' | 'on'>; until?: number }
    /** One of us called. `tried`: not reached, what is tried next is set by the ladder. */
    | { kind: 'call'; result: CallResult; text?: string }
    /** One of us writes them a mail, which is on its way. */
    | { kind: 'wrote'; mail: string; subject: string; text: string; files?: LeadFile[] }
    /** They answered one. */
    | { kind: 'replied'; subject: string; text: string; quoted: string; from: string | null; auto: boolean }
    /** In a conversation of theirs one of us answered first, it ended, or they said how it was. */
    | { kind: 'talked'; talk: string; point: string; what: 'answered' | 'ended' | 'rated'; rating?: number; words?: string }
    /** Somebody takes back an act of theirs, by the version of its event. */
    | { kind: 'undo'; of: number; act: UndoneAct; undo: Undo; status?: string }
    /** Who was given it takes it, or does not. */
    | { kind: 'accept'; accepts: boolean }
    /** Whoever has it sends it back: nobody's, not waiting, and its label held at `label` (null: none is below) until then. */
    | { kind: 'sent_back'; why: SentBackWhy; words: string; label: string | null; until: number }
    /** Given by hand to somebody, who is told with these words, or to nobody. `quiet`: nobody is told, it is of the past. */
    | {
        kind: 'owner'
        owner: string | null
        words?: string
        quiet?: boolean
        /** They have to take it within so many working minutes. */ within?: number
      }
    | { kind: 'next_step'; step: ({ text: string; due: number } & Partial<StepHow>) | null; done?: boolean; outcome?: string }
    /** Words are put on them, or taken off, by hand. */
    | { kind: 'tags'; on: string[]; off: string[] }
    /** On exactly these lists, by hand. */
    | { kind: 'lists'; lists: string[] }
    /** An import has put them on its list, where they were not before (`isNew`) or were. */
    | { kind: 'listed'; list: string; isNew: boolean }
    /** What an import had done to them is taken back, where it is still so: the list by its id, unless they were on it before. */
    | { kind: 'row_undone'; table: string; list: string | null; filled: Filled[]; owner: string | null }
    /** They chose a time, or another one than before (`was`). */
    | {
        kind: 'meeting'
        starts: number
        minutes: number
        with: string
        was?: number
        /** What one of us said with it who moved it. */
        words?: string
        notice: { subject: string; text: string; meeting: string } | null
      }
    /** A meeting does not take place: they said so, or one of us. */
    | {
        kind: 'called_off'
        starts: number
        with: string
        from: 'them' | 'us'
        words: string
        notice: { subject: string; text: string; meeting: string } | null
      }
    /** Their own address was confirmed. */
    | { kind: 'confirmed'; address: string }
    /** A claimed address was confirmed, and became theirs where nothing speaks against it. */
    | { kind: 'claim_confirmed'; claim: Address & { at: number }; isNew: boolean; becomes: boolean }
    /** A member says whether a claimed address is theirs. */
    | { kind: 'judged'; claim: Address & { confirmedAt: number | null }; theirs: boolean }
    | { kind: 'vouched' }
    /** Somebody holds a label for them, or lets the score decide again. */
    | { kind: 'label_held'; label: string | null; how: Hold; until: number | null; reason: string }
    | { kind: 'unsubscribed'; address: string }
    | { kind: 'clicked'; subject: string }
    /** Another lead is the same person and goes into this one: what is taken from it where both say something, and the lists that it was on. */
    | { kind: 'merged'; gone: LeadState; take: string[]; lists: string[] }
    /** What a merge had given it goes back, and the lines of what the other one sent since (`without`: when). `trail`: what its browsers did, anew. */
    | { kind: 'split'; other: { id: string; name: string }; states: MergeStates; without: number[]; trail: Activity[] | null }
    /** It comes back out of another one, on its lists. `since`: what they sent meanwhile; `waitingSince`: nobody answered them since. */
    | {
        kind: 'restored'
        other: { id: string; name: string }
        lists: string[]
        since: Activity[]
        trail: Activity[] | null
        waitingSince: number | null
        stepIsDone: boolean
      }
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
  /** Written down by one of us, who knows nobody like them. */
  | { kind: 'made'; address: Address | null; values: Record<string, PropertyValue>; owner: RowOwner; from: string }
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
  note: [...JUDGED, 'effects'],
  note_changed: [...JUDGED, 'effects'],
  edited: JUDGED,
  made: [...JUDGED, 'route', 'effects'],
  status: JUDGED,
  call: JUDGED,
  wrote: JUDGED,
  replied: [...JUDGED, 'effects'],
  talked: JUDGED,
  undo: JUDGED,
  accept: [...JUDGED, 'effects'],
  sent_back: JUDGED,
  owner: [...JUDGED, 'effects'],
  next_step: JUDGED,
  lists: JUDGED,
  tags: JUDGED,
  meeting: [...JUDGED, 'effects'],
  called_off: [...JUDGED, 'effects'],
  confirmed: JUDGED,
  claim_confirmed: JUDGED,
  judged: JUDGED,
  vouched: JUDGED,
  label_held: JUDGED,
  unsubscribed: JUDGED,
  clicked: JUDGED,
  merged: [...JUDGED, 'effects'],
  split: JUDGED,
  restored: JUDGED,
  due: [...JUDGED, 'route', 'effects'],
  ruleset: JUDGED,
}
