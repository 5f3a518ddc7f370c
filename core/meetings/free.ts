import { DateTime } from 'luxon'
import { workBetween, type WorkingHours } from '#core/working-time'

/** A stretch of time, half-open, in milliseconds since 1970. */
export interface Span {
  from: number
  until: number
}

/** Nobody can be met sooner than so long after they were asked. */
export const NOTICE_MS = 2 * 3_600_000
/** Meetings begin on whole steps of the hour. */
const STEP_MINUTES = 30

/**
 * The beginnings of meetings that fit a person's working hours and what they have already.
 * @param minutes how long a meeting takes
 * @param taken what is taken, in any order
 * @param now milliseconds since 1970; nothing begins within two hours from it
 * @param days so many calendar days ahead, today included
 * @returns milliseconds since 1970, rising
 */
export function freeTimes(hours: WorkingHours, minutes: number, taken: Span[], now: number, days: number): number[] {
  const last = DateTime.fromMillis(now, { zone: hours.zone }).startOf('day').plus({ days }).toMillis()
  const free: number[] = []
  for (const { from, until } of workBetween(now, last, hours)) {
    for (let at = from; at + minutes * 60_000 <= until; at += STEP_MINUTES * 60_000) {
      const span = { from: at, until: at + minutes * 60_000 }
      if (at >= now + NOTICE_MS && !taken.some(t => t.from < span.until && span.from < t.until)) free.push(at)
    }
  }
  return free
}
