import ICAL from 'ical.js'

/** Days on which nobody works, the last one included. */
export interface HolidaySpan {
  from: string
  until: string
  name: string
}
/** Days are looked for so far behind and ahead. */
const [BEHIND_DAYS, AHEAD_DAYS] = [31, 800]
const MOST_DAYS = 60
const MOST = 300
/** A rule that repeats for ever is followed so often. */
const MOST_REPEATS = 2000

const shifted = (day: string, days: number) => new Date(Date.parse(day) + days * 86_400_000).toISOString().slice(0, 10)

/**
 * The whole days that an iCalendar file names (RFC 5545), repetitions written out, each span once, in order.
 * What lasts only hours, what is called off and what lies too far away is passed over.
 * @param today in the house's zone, as `2026-05-01`
 * @returns the days and how many events were passed over; null when it is no calendar
 */
export function holidaysIn(text: string, today: string): { days: HolidaySpan[]; passed: number } | null {
  let events: ICAL.Component[]
  try {
    const root = new ICAL.Component(ICAL.parse(text) as never[])
    if (root.name !== 'vcalendar') return null
    events = root.getAllSubcomponents('vevent')
  } catch {
    return null
  }
  const [first, last] = [shifted(today, -BEHIND_DAYS), shifted(today, AHEAD_DAYS)]
  const found = new Map<string, HolidaySpan>()
  let passed = 0
  for (const component of events) {
    const spans = spansOf(component, first, last)
    if (!spans.length) passed++
    for (const span of spans) found.set(`${span.from} ${span.until}`, span)
  }
  return { days: [...found.values()].toSorted((a, b) => a.from.localeCompare(b.from)).slice(0, MOST), passed }
}

function spansOf(component: ICAL.Component, first: string, last: string): HolidaySpan[] {
  try {
    const event = new ICAL.Event(component)
    const begins = event.startDate
    if (!begins?.isDate || String(component.getFirstPropertyValue('status') ?? '').toUpperCase() === 'CANCELLED') return []
    // The end is the first day behind it (RFC 5545, 3.6.1); without one it is the day alone.
    const ends = event.endDate
    const length = ends
      ? Math.round((Date.parse(ends.toString().slice(0, 10)) - Date.parse(begins.toString().slice(0, 10))) / 86_400_000)
      : 1
    if (length > MOST_DAYS) return []
    const name = (event.summary ?? '').replace(/\s+/g, ' ').trim().slice(0, 80) || 'Holiday'
    const span = (day: string) => ({ from: day, until: shifted(day, Math.max(1, length) - 1), name })
    const within = (day: string) => day <= last && shifted(day, Math.max(1, length) - 1) >= first
    if (!event.isRecurring()) return within(begins.toString().slice(0, 10)) ? [span(begins.toString().slice(0, 10))] : []
    const spans: HolidaySpan[] = []
    const days = event.iterator()
    for (let n = 0, next = days.next(); next && n < MOST_REPEATS; n++, next = days.next()) {
      const day = next.toString().slice(0, 10)
      if (day > last) break
      if (within(day)) spans.push(span(day))
    }
    return spans
  } catch {
    return []
  }
}
