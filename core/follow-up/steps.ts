import { DateTime } from 'luxon'
import type { Every, FollowUp } from '#core/follow-up/state'

const PLUS: Record<Every, object> = {
  day: { days: 1 },
  week: { weeks: 1 },
  fortnight: { weeks: 2 },
  month: { months: 1 },
  quarter: { months: 3 },
  year: { years: 1 },
}
/** Something that was left alone for longer begins anew from today. */
const MOST_REPEATS = 5_000

/**
 * When something that is done again and again is due next: at the same time on the wall, by its own rhythm, after a moment. What began
 * on the 31st is due on the last day of a shorter month, and on the 31st again of a longer one.
 * @param due when it was due, milliseconds since 1970
 */
export function nextOf(due: number, every: Every, after: number, zone: string): number {
  const first = DateTime.fromMillis(due, { zone })
  const [unit, n] = Object.entries(PLUS[every])[0] as [string, number]
  for (let times = 1; times < MOST_REPEATS; times++) {
    const at = first.plus({ [unit]: n * times }).toMillis()
    if (at > after) return at
  }
  return DateTime.fromMillis(after, { zone }).plus(PLUS[every]).toMillis()
}

/**
 * The next moment at which somebody is reminded of a step.
 * @param due when it is due, milliseconds since 1970
 * @returns Infinity when there is none to come
 */
export function nextReminder({ step, reminded = -Infinity }: FollowUp, due: number): number {
  const moments = (step?.remind ?? []).map(minutes => due - minutes * 60_000).filter(at => at > reminded)
  return Math.min(Infinity, ...moments)
}
