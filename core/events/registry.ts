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
import { labelHeld } from '#core/events/kinds/label-held'
import { lists } from '#core/events/kinds/lists'
import { merged } from '#core/events/kinds/merged'
import { mergedInto } from '#core/events/kinds/merged-into'
import { meeting } from '#core/events/kinds/meeting'
import { nextStep } from '#core/events/kinds/next-step'
import { note } from '#core/events/kinds/note'
import { noteChanged } from '#core/events/kinds/note-changed'
import { owner } from '#core/events/kinds/owner'
import { sentBack } from '#core/events/kinds/sent-back'
import { split } from '#core/events/kinds/split'
import { status } from '#core/events/kinds/status'
import { takenBack } from '#core/events/kinds/taken-back'
import { talked } from '#core/events/kinds/talked'
import { typed } from '#core/events/kinds/typed'
import { unowned } from '#core/events/kinds/unowned'
import { unsubscribed } from '#core/events/kinds/unsubscribed'
import { answered } from '#core/events/kinds/answered'
import { call } from '#core/events/kinds/call'
import { calledOff } from '#core/events/kinds/called-off'
import { handOver } from '#core/events/kinds/hand-over'
import { promise } from '#core/events/kinds/promise'
import { undone } from '#core/events/kinds/undone'
import { woke } from '#core/events/kinds/woke'
import { tags } from '#core/events/kinds/tags'
import { replied } from '#core/events/kinds/replied'
import { wrote } from '#core/events/kinds/wrote'
import { edited } from '#core/events/kinds/edited'
import { made } from '#core/events/kinds/made'

/** All that can happen to a lead, in the order in which things of one moment happen. */
export const EVENT_KINDS = {
  created,
  made,
  brought_in: broughtIn,
  taken_back: takenBack,
  typed,
  claimed,
  confirmed,
  judged,
  merged,
  merged_into: mergedInto,
  split,
  entry,
  corrected,
  edited,
  woke,
  meeting,
  called_off: calledOff,
  call,
  wrote,
  replied,
  talked,
  answered,
  promise,
  note,
  note_changed: noteChanged,
  status,
  hand_over: handOver,
  sent_back: sentBack,
  lists,
  tags,
  label_held: labelHeld,
  label,
  owner,
  unowned,
  next_step: nextStep,
  clicked,
  unsubscribed,
  undone,
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
