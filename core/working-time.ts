import { IANAZone } from 'luxon'

/** A stretch of a working day, half-open, in minutes since midnight on the wall: 480 to 720 is from eight to noon. */
export interface DaySpan {
  from: number
  until: number
}
/** Days of the calendar (`2026-05-01`), the last one counts. */
export interface DayRange {
  from: string
  until: string
}
/** When somebody works: the stretches of each day of the week, Monday first, in a zone; less the days off. */
export interface WorkingHours {
  zone: string
  week: DaySpan[][]
  off?: DayRange[]
}

const DAY = 86_400_000
const MINUTE = 60_000
/** No zone is further from UTC than this. */
const FARTHEST = 14 * 3_600_000

/** When work begins and ends on a day, rising, in milliseconds since 1970. */
type Open = readonly (readonly [opens: number, closes: number])[]
interface Calendar {
  zone: IANAZone
  days: Map<number, Open>
}
/** The zone's clock is asked once for each day, not for each who waits. Days and hours are few; more are not kept. */
const MOST_DAYS = 20_000
const byText = new Map<string, Calendar>()
const byHours = new WeakMap<WorkingHours, Calendar>()

function calendarOf(hours: WorkingHours): Calendar {
  const known = byHours.get(hours)
  if (known) return known
  const text = JSON.stringify([hours.zone, hours.week, hours.off ?? []])
  let calendar = byText.get(text)
  if (!calendar) {
    if (byText.size > 200) byText.clear()
    byText.set(text, (calendar = { zone: IANAZone.create(hours.zone), days: new Map() }))
  }
  byHours.set(hours, calendar)
  return calendar
}

/** How far a zone's wall is ahead of UTC at a moment, in milliseconds. */
const ahead = (zone: IANAZone, at: number): number => zone.offset(at) * MINUTE

/** The parts of a stretch of time in which a zone keeps one distance from UTC: clocks are changed at most once in some days. */
function steady(zone: IANAZone, from: number, until: number): { from: number; until: number; ahead: number }[] {
  const [first, last] = [ahead(zone, from), ahead(zone, until)]
  if (first === last) return [{ from, until, ahead: first }]
  let [low, high] = [from, until]
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2)
    if (ahead(zone, middle) === first) low = middle
    else high = middle
  }
  return [
    { from, until: high, ahead: first },
    { from: high, until, ahead: last },
  ]
}

const dayText = (date: number) => new Date(date * DAY).toISOString().slice(0, 10)

/** @param date a day of the calendar, as days since 1 January 1970 */
function openOn(calendar: Calendar, date: number, hours: WorkingHours): Open {
  const known = calendar.days.get(date)
  if (known) return known
  if (calendar.days.size > MOST_DAYS) calendar.days.clear()
  // 1 January 1970 was a Thursday.
  const spans = hours.week[(((date + 3) % 7) + 7) % 7] ?? []
  const day = dayText(date)
  const isOff = !spans.length || (hours.off?.some(r => r.from <= day && day <= r.until) ?? false)
  const open = isOff
    ? []
    : steady(calendar.zone, date * DAY - FARTHEST, (date + 1) * DAY + FARTHEST).flatMap(part =>
        spans.flatMap(span => {
          const wall = date * DAY - part.ahead
          const [opens, closes] = [Math.max(part.from, wall + span.from * MINUTE), Math.min(part.until, wall + span.until * MINUTE)]
          return closes > opens ? [[opens, closes] as const] : []
        }),
      )
  const whole = joined(open)
  calendar.days.set(date, whole)
  return whole
}

/** Stretches in order, each as long as it goes on: where clocks are changed it does. */
function joined(open: Open): Open {
  const whole: [number, number][] = []
  for (const [opens, closes] of open.toSorted((a, b) => a[0] - b[0])) {
    const last = whole.at(-1)
    if (last && opens <= last[1]) last[1] = Math.max(last[1], closes)
    else whole.push([opens, closes])
  }
  return whole
}

/** The stretches of work of the days that may touch a stretch of time, as they come. */
function* openBetween(from: number, until: number, hours: WorkingHours): Generator<readonly [number, number]> {
  const calendar = calendarOf(hours)
  const last = Math.floor((until + FARTHEST) / DAY)
  for (let date = Math.floor((from - FARTHEST) / DAY); date <= last; date++) yield* openOn(calendar, date, hours)
}

/**
 * Working minutes between two moments, half-open [from, until): those whose time on the wall lies in the hours of its day. An hour
 * that a change of clocks takes away is none, one that comes twice is two.
 * @param from, until milliseconds since 1970; 0 when `until` is not after `from`
 */
export function workingMinutes(from: number, until: number, hours: WorkingHours): number {
  if (until <= from) return 0
  let minutes = 0
  for (const [opens, closes] of openBetween(from, until, hours)) {
    const [begins, ends] = [Math.max(opens, from), Math.min(closes, until)]
    if (ends > begins) minutes += (ends - begins) / MINUTE
  }
  return minutes
}

/** The stretches of work that touch a stretch of time, whole, as they come; half-open, in milliseconds since 1970. */
export const workBetween = (from: number, until: number, hours: WorkingHours): { from: number; until: number }[] =>
  [...openBetween(from, until, hours)].flatMap(([opens, closes]) =>
    closes > from && opens < until ? [{ from: opens, until: closes }] : [],
  )

/** So far ahead somebody's next work is looked for. */
const HORIZON = 400 * DAY

/** The first moment from one on at which somebody is at work; null when there is none within 400 days. */
export function nextWork(at: number, hours: WorkingHours): number | null {
  for (const [opens, closes] of openBetween(at, at + HORIZON, hours)) if (closes > at) return Math.max(opens, at)
  return null
}

/** Whether somebody is at work at a moment. */
export const isAtWork = (at: number, hours: WorkingHours): boolean => nextWork(at, hours) === at

/** Whether somebody still works on the day, by their own calendar, that a moment is in: at work, or not yet. */
export function worksToday(at: number, hours: WorkingHours): boolean {
  const calendar = calendarOf(hours)
  const today = Math.floor((at + ahead(calendar.zone, at)) / DAY)
  return openOn(calendar, today, hours).some(([, closes]) => closes > at)
}

/**
 * When so many working minutes are over.
 * @param minutes 0 and more; at 0 it is the moment itself
 * @returns milliseconds since 1970; null when nobody works that long within 400 days
 */
export function afterWorking(from: number, minutes: number, hours: WorkingHours): number | null {
  let left = minutes * MINUTE
  if (left <= 0) return from
  for (const [opens, closes] of openBetween(from, from + HORIZON, hours)) {
    const begins = Math.max(opens, from)
    if (closes <= begins) continue
    if (closes - begins >= left) return begins + left
    left -= closes - begins
  }
  return null
}

/** How long the longest day of a week's work is, in minutes: what people call a day. */
export const dayLength = ({ week }: Pick<WorkingHours, 'week'>): number =>
  Math.max(60, ...week.map(spans => spans.reduce((sum, s) => sum + s.until - s.from, 0)))

/** A week in which each of some days (1 Monday to 7 Sunday) has the same hours, in whole hours. */
export const sameHours = (days: number[], from: number, until: number): DaySpan[][] =>
  [1, 2, 3, 4, 5, 6, 7].map(day => (days.includes(day) ? [{ from: from * 60, until: until * 60 }] : []))
