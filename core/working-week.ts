import { ValidateBy } from 'class-validator'
import type { DaySpan } from '#core/working-time'

/** So many stretches a day has at most. */
const MOST_SPANS = 4

/** What is wrong with a week, in words; null: nothing. */
export function weekFlaw(week: unknown): string | null {
  if (!Array.isArray(week) || week.length !== 7) return 'A week has seven days, Monday first'
  for (const day of week as unknown[]) {
    if (!Array.isArray(day) || day.length > MOST_SPANS) return `A day has at most ${MOST_SPANS} stretches of work`
    let last = -1
    for (const span of day as unknown[]) {
      const { from, until } = (span ?? {}) as Partial<DaySpan>
      if (!Number.isInteger(from) || !Number.isInteger(until) || from! < 0 || until! > 1440)
        return 'Work begins and ends between 0:00 and 24:00'
      if (from! >= until!) return 'Work ends after it begins'
      if (from! <= last) return 'Two stretches of one day touch each other: make one of them'
      last = until!
    }
  }
  return null
}

/** The field holds a week's working hours. */
export const IsWeek = (): PropertyDecorator =>
  ValidateBy({
    name: 'isWeek',
    validator: { validate: v => weekFlaw(v) === null, defaultMessage: args => `${weekFlaw(args?.value) ?? ''}.` },
  })

/** What is typed for a day: `8-12, 13:30-18`; empty: no work. @returns null when it cannot be read */
export function readDay(typed: string): DaySpan[] | null {
  const spans: DaySpan[] = []
  for (const part of typed
    .split(/[,;+]/)
    .map(p => p.trim())
    .filter(Boolean)) {
    const match = /^(\d{1,2})(?:[:.h](\d{2})?)?\s*(?:-|–|to|until)\s*(\d{1,2})(?:[:.h](\d{2})?)?$/i.exec(part)
    if (!match) return null
    const [from, until] = [Number(match[1]) * 60 + Number(match[2] ?? 0), Number(match[3]) * 60 + Number(match[4] ?? 0)]
    if (Number(match[2] ?? 0) > 59 || Number(match[4] ?? 0) > 59) return null
    spans.push({ from, until })
  }
  spans.sort((a, b) => a.from - b.from)
  return weekFlaw([spans, [], [], [], [], [], []]) === null ? spans : null
}

const clock = (minutes: number) => `${Math.floor(minutes / 60)}${minutes % 60 ? `:${String(minutes % 60).padStart(2, '0')}` : ''}`
/** A day's hours as they are typed. */
export const dayInWords = (spans: DaySpan[]): string => spans.map(s => `${clock(s.from)}–${clock(s.until)}`).join(', ')
