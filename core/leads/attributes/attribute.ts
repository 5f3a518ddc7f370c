import type { Column } from '#core/conditions/sql'
import type { Beside } from '#core/leads/beside'
import type { LeadState } from '#core/leads/lead'

/** What has to be loaded beside a lead, so that an attribute can be read. */
export const NEEDS = ['lists', 'entries', 'visits'] as const
export type Need = (typeof NEEDS)[number]

/** A lead at a moment (milliseconds since 1970), with what was loaded beside it. */
export interface About {
  lead: LeadState
  beside: Beside
  now: number
  /** Of the scorecard that the lead's interest is by. */
  halfLifeDays: number
}

/** What the editor offers to compare with; `lists` and the like are the house's own words. */
export type Choices = 'yes_no' | 'labels' | 'lists' | 'segments' | 'statuses' | 'members'

/** Something that a condition may ask about a lead: all that is to know about it. */
export interface Attribute {
  /** As conditions name it; of a family what stands before its own name (`property.`). */
  name: string
  isFamily?: boolean
  kind: 'text' | 'number' | 'day' | 'choice'
  needs: Need[]
  /**
   * The value at a moment: a text, a number, a list of texts, or null when it is not known. A day is written as ISO 8601 does, in UTC.
   * @param own of a family, the name behind its prefix
   * @throws NotLoaded when it needs what was not loaded
   */
  read: (about: About, own: string) => string | string[] | number | null
  /** The same over the lead `l`, as one text or a query of many. */
  sql: (now: number, own: string) => Column
  /**
   * Of a number that time alone changes: when it comes to lie on the other side of a bound (at least so much, or less), in
   * milliseconds since 1970; Infinity: never.
   * Without it only a cause changes the value, or, of a day, the distance from today.
   */
  reaches?: (about: About, value: number) => number
  /** Within a sentence: “the label”. */
  words: string
  /** In the editor: “Label”. */
  label: string
  choices?: Choices
  /** What may not be asked by a scorecard, since the scorecard makes it. */
  isOfScore?: boolean
}

const DAY = 86_400_000
/** A moment's day in UTC, as ISO 8601 writes it. */
export const dayOf = (at: number): string => new Date(at).toISOString().slice(0, 10)
/** Whole days that have passed. */
export const daysSince = (at: number, now: number): number => Math.max(0, Math.floor((now - at) / DAY))
/** When so many whole days will have passed. */
export const afterDays = (at: number, days: number): number => at + Math.ceil(days) * DAY
