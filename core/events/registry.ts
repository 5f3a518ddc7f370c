import type { EventKind } from '#core/events/kind'
import { broughtIn } from '#core/events/kinds/brought-in'
import { claimed } from '#core/events/kinds/claimed'
import { clicked } from '#core/events/kinds/clicked'
import { confirmed } from '#core/events/kinds/confirmed'
import { corrected } from '#core/events/kinds/corrected'
import { created } from '#core/events/kinds/created'
import { entry } from '#core/events/kinds/entry'
import { judged } from '#core/events/kinds/judged'
import { label } from '#core/events/kinds/label'
import { lists } from '#core/events/kinds/lists'
import { meeting } from '#core/events/kinds/meeting'
import { nextStep } from '#core/events/kinds/next-step'
import { note } from '#core/events/kinds/note'
import { owner } from '#core/events/kinds/owner'
import { status } from '#core/events/kinds/status'
import { takenBack } from '#core/events/kinds/taken-back'
import { typed } from '#core/events/kinds/typed'
import { unsubscribed } from '#core/events/kinds/unsubscribed'

/** All that can happen to a lead, in the order in which things of one moment happen. */
export const EVENT_KINDS = {
  created,
  brought_in: broughtIn,
  taken_back: takenBack,
  typed,
  claimed,
  confirmed,
  judged,
  entry,
  corrected,
  meeting,
  note,
  status,
  lists,
  label,
  owner,
  next_step: nextStep,
  clicked,
  unsubscribed,
}
export type EventName = keyof typeof EVENT_KINDS
/** What belongs to each kind. */
export type EventPayloads = { [K in EventName]: (typeof EVENT_KINDS)[K] extends EventKind<infer P> ? P : never }
/** What a cause changed: at most one of each kind. */
export type Changes = Partial<EventPayloads>

export const EVENT_NAMES = Object.keys(EVENT_KINDS) as EventName[]
/** A kind by its name; undefined when this Cavlin has no such. */
export const kindNamed = (name: string): EventKind<object> | undefined =>
  Object.hasOwn(EVENT_KINDS, name) ? (EVENT_KINDS[name as EventName] as unknown as EventKind<object>) : undefined
