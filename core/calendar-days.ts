import { DateTime } from 'luxon'

const HOUR = 3_600_000
/** So many hours are remembered for each zone: eleven years. */
const MOST_HOURS = 100_000

/**
 * Remembers what the moments of an hour come to, where the whole hour comes to one thing: a zone's clock is dear to ask.
 * @param of what a moment comes to, in milliseconds since 1970; it changes at most once within an hour
 */
function byHour<T extends string | number>(of: (at: number) => T): (at: number) => T {
  const known = new Map<number, T | null>()
  return at => {
    const hour = Math.floor(at / HOUR)
    let same = known.get(hour)
    if (same === undefined) {
      if (known.size >= MOST_HOURS) known.clear()
      const [first, last] = [of(hour * HOUR), of((hour + 1) * HOUR - 1)]
      same = first === last ? first : null
      known.set(hour, same)
    }
    return same ?? of(at)
  }
}

interface Days {
  text: (at: number) => string
  begins: (at: number) => number
}
/** Zones are few: the house's, and those that members chose. */
const zones = new Map<string, Days>()

function daysOf(zone: string): Days {
  let days = zones.get(zone)
  if (!days) {
    const on = (at: number) => DateTime.fromMillis(at, { zone })
    zones.set(zone, (days = { text: byHour(at => on(at).toISODate()!), begins: byHour(at => on(at).startOf('day').toMillis()) }))
  }
  return days
}

/** The day of a zone's calendar that a moment lies in (`2026-05-01`). @param at milliseconds since 1970 */
export const dayText = (at: number, zone: string): string => daysOf(zone).text(at)

/** When the day began, in a zone, that a moment lies in; both in milliseconds since 1970. */
export const dayBegins = (at: number, zone: string): number => daysOf(zone).begins(at)
