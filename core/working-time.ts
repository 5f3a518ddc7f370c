import { DateTime } from 'luxon'

/** When a team works: days of the week (1 Monday to 7 Sunday), hours of the day, in a zone. */
export interface WorkingHours { days: number[]; from: number; until: number; zone: string }

/**
 * Working minutes between two moments, half-open [from, until).
 * Counts in the team's zone, so a day with a clock change is as long as its hours on the wall.
 * @param from, until milliseconds since 1970; 0 when `until` is not after `from`
 */
export function workingMinutes(from: number, until: number, hours: WorkingHours): number {
  if (until <= from) return 0
  let minutes = 0
  const end = DateTime.fromMillis(until, { zone: hours.zone })
  let day = DateTime.fromMillis(from, { zone: hours.zone }).startOf('day')
  const dayMinutes = (hours.until - hours.from) * 60
  // Whole weeks at once: what has waited for years need not be walked through day by day.
  const weeks = Math.floor(end.diff(day, 'weeks').weeks) - 2
  if (weeks > 0) {
    const far = day.plus({ weeks })
    minutes += weeks * hours.days.length * dayMinutes - workingMinutes(day.toMillis(), from, hours)
    day = far
    from = far.toMillis()
  }
  for (; day < end; day = day.plus({ days: 1 })) {
    if (!hours.days.includes(day.weekday)) continue
    const opens = Math.max(day.set({ hour: hours.from }).toMillis(), from)
    const closes = Math.min(day.set({ hour: hours.until }).toMillis(), until)
    if (closes > opens) minutes += (closes - opens) / 60_000
  }
  return minutes
}
