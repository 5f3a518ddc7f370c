import { DateTime } from 'luxon'

/** When a team works: days of the week (1 Monday to 7 Sunday), hours of the day, in a zone. */
export interface WorkingHours { days: number[]; from: number; until: number; zone: string }

const DAY = 86_400_000
/** No zone is further from UTC than this. */
const FARTHEST = 14 * 3_600_000

/** When work begins and ends on a day, in milliseconds since 1970; null on a day without work. */
type Span = readonly [opens: number, closes: number] | null
const calendars = new Map<string, Map<number, Span>>()
/** The zone's clock is asked once for each day, not for each who waits. Days and hours are few; more are not kept. */
const MOST_DAYS = 20_000

function calendarOf(hours: WorkingHours): Map<number, Span> {
  const key = JSON.stringify([hours.days, hours.from, hours.until, hours.zone])
  const calendar = calendars.get(key)
  if (calendar && calendar.size < MOST_DAYS) return calendar
  if (calendars.size > 100) calendars.clear()
  const fresh = new Map<number, Span>()
  calendars.set(key, fresh)
  return fresh
}

/** @param date a day of the calendar, as days since 1 January 1970 */
function spanOf(calendar: Map<number, Span>, date: number, hours: WorkingHours): Span {
  let span = calendar.get(date)
  if (span === undefined) {
    const written = new Date(date * DAY)
    const day = DateTime.fromObject({ year: written.getUTCFullYear(), month: written.getUTCMonth() + 1, day: written.getUTCDate() }, { zone: hours.zone }).startOf('day')
    span = hours.days.includes(day.weekday) ? [day.set({ hour: hours.from }).toMillis(), day.set({ hour: hours.until }).toMillis()] : null
    calendar.set(date, span)
  }
  return span
}

/**
 * Working minutes between two moments, half-open [from, until).
 * Counts in the team's zone, so a day with a clock change is as long as its hours on the wall.
 * @param from, until milliseconds since 1970; 0 when `until` is not after `from`
 */
export function workingMinutes(from: number, until: number, hours: WorkingHours): number {
  if (until <= from) return 0
  const calendar = calendarOf(hours)
  let minutes = 0
  for (let date = Math.floor((from - FARTHEST) / DAY); date <= Math.floor((until + FARTHEST) / DAY); date++) {
    const span = spanOf(calendar, date, hours)
    if (!span) continue
    const [opens, closes] = [Math.max(span[0], from), Math.min(span[1], until)]
    if (closes > opens) minutes += (closes - opens) / 60_000
  }
  return minutes
}
