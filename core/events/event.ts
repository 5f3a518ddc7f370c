import type { Facets } from '#core/figures/facets'
import type { Undo } from '#core/follow-up/undo'
import { EVENT_NAMES, kindNamed, type Changes, type EventName } from '#core/events/registry'
import { check } from '#core/validate'

/** Something that happened to a lead: a cause, what it changed, and what the lead's score was then. `at` in milliseconds since 1970. */
export interface LeadEvent {
  lead: string
  /** The lead's first event has 1, each that follows one more. */
  version: number
  at: number
  /** What it was that happened: a kind of `Cause`. */
  cause: string
  /** The member who did it; null: nobody of us. */
  actor: string | null
  changes: Changes
  fit: number
  /** Interest at that moment, not rounded. */
  interest: number
  /** The scorecard that it was judged by, by the number of its edition. */
  card: number
  /** How figures count the lead since; null when it is gone, or that was not kept then. */
  facets: Facets | null
  /** What somebody may take back of it. */
  undo?: Undo
  /** The event that it takes back, by its version. */
  undone?: number
}

/** What a kept event changed, kind by kind in the order in which it happened. What this Cavlin does not know, or cannot read, is left out. */
export function changesIn(kept: Record<string, unknown>): { kind: EventName; payload: object }[] {
  return EVENT_NAMES.flatMap(kind => {
    const payload = Object.hasOwn(kept, kind) ? check(kindNamed(kind)!.payload, kept[kind]).value : null
    return payload ? [{ kind, payload: { ...payload } }] : []
  })
}

/** What stays of an event's changes once the person is erased. */
export const redacted = (kept: Record<string, unknown>): Record<string, object> =>
  Object.fromEntries(changesIn(kept).map(({ kind, payload }) => [kind, kindNamed(kind)!.redacted(payload)]))

/** The same of an event of somebody else, of what it says of some leads; null when it says nothing of them. */
export function redactedOf(kept: Record<string, unknown>, leads: ReadonlySet<string>): Record<string, unknown> | null {
  const said = changesIn(kept).filter(({ payload }) => 'lead' in payload && leads.has(payload.lead as string))
  return said.length
    ? { ...kept, ...Object.fromEntries(said.map(({ kind, payload }) => [kind, kindNamed(kind)!.redacted(payload)])) }
    : null
}
