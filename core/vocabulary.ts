import type { Ask } from '#core/follow-up/state'
import type { Property } from '#core/properties/kinds'
import type { DayRange, WorkingHours } from '#core/working-time'

/** The firm's own words, as they are set up. */
/**
 * `country` reads national phone numbers; `currency` is what money properties are in (ISO 4217). `hours` are in the house's zone, less
 * its holidays.
 */
export interface House {
  name: string
  hours: WorkingHours
  holidays: Holiday[]
  zone: string
  country: string
  currency: string
}
/** Days on which nobody of the firm works. */
export interface Holiday extends DayRange {
  id: string
  name: string
}
/** `qualified`: from this label on a lead counts as qualified. `responseTarget` in working minutes. */
export interface Label {
  key: string
  name: string
  rank: number
  qualified: boolean
  responseTarget: number
}
export const STAGES = ['first', 'open', 'won', 'lost', 'parked'] as const
export type Stage = (typeof STAGES)[number]
/** Where a follow-up stands. `asks`: what has to be said with it; `reasons`: those that are offered. */
export interface Status {
  key: string
  name: string
  rank: number
  stage: Stage
  asks: Ask[]
  reasons: string[]
}
/** Stages in which a lead is worked on; in the others its follow-up has ended, or was put off. */
export const isOpen = (stage: Stage | undefined): boolean => stage === 'first' || stage === 'open'
/** Mails that people can agree to. */
export interface MailTopic {
  key: string
  name: string
  rank: number
}
/** A label that was joined with another one (`into`). */
export interface JoinedLabel {
  key: string
  name: string
  into: string
}
/** A status that was given up, and the one that its leads went to. */
export interface JoinedStatus {
  key: string
  name: string
  stage: Stage
  into: string
}
export interface Vocabulary {
  house: House
  labels: Label[]
  joinedLabels?: JoinedLabel[]
  statuses: Status[]
  joinedStatuses?: JoinedStatus[]
  properties: Property[]
  topics: MailTopic[]
}
