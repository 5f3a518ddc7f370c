import { dayBegins } from '#core/calendar-days'
import { hourOf } from '#core/figures/deltas'
import { PASSAGES, type Passage } from '#core/figures/facets'

/** Which people a figure counts, as the table of leads is asked for them. All that is said holds. */
export interface CountedFilter {
  /** They passed this last within so many days. */
  passed?: { what: Passage; days: number }
  /** Their first entry came through this point, by its key, or from this source. */
  firstPoint?: string
  firstSource?: string
  /** They came within so many days, today counted beside them. */
  came?: number
  /** A label that counts as qualified was theirs at some time. */
  ever?: 'qualified'
  /** They stand in a status of this stage. */
  stage?: 'won' | 'lost'
}
/** The names by which an address says it. */
export const COUNTED_NAMES = ['passed', 'days', 'firstPoint', 'firstSource', 'came', 'ever', 'stage'] as const
export type CountedQuery = Partial<Record<(typeof COUNTED_NAMES)[number], string>>

const MOST_DAYS = 3650
const days = (text: string | undefined): number | undefined =>
  text !== undefined && /^\d{1,4}$/.test(text) && Number(text) >= 1 && Number(text) <= MOST_DAYS ? Number(text) : undefined

/** Reads it out of an address. @returns the flaw, where something cannot be read; null where nothing is said */
export function countedFilter(q: CountedQuery): CountedFilter | null | { flaw: string } {
  if (COUNTED_NAMES.every(name => q[name] === undefined)) return null
  const filter: CountedFilter = {}
  if (q.passed !== undefined || q.days !== undefined) {
    const within = days(q.days ?? '30')
    if (!(PASSAGES as readonly string[]).includes(q.passed ?? '') || within === undefined)
      return { flaw: `Say what was passed (${PASSAGES.join(', ')}), and within how many days.` }
    filter.passed = { what: q.passed as Passage, days: within }
  }
  if (q.came !== undefined) {
    filter.came = days(q.came)
    if (filter.came === undefined) return { flaw: `Say in how many days they came: 1 to ${MOST_DAYS}.` }
  }
  if (q.ever !== undefined && q.ever !== 'qualified') return { flaw: 'Send ever=qualified, or leave it out.' }
  if (q.stage !== undefined && q.stage !== 'won' && q.stage !== 'lost') return { flaw: 'Send stage=won or stage=lost, or leave it out.' }
  return {
    ...filter,
    ...(q.ever && { ever: 'qualified' as const }),
    ...(q.stage && { stage: q.stage as 'won' | 'lost' }),
    ...(q.firstPoint !== undefined && { firstPoint: q.firstPoint.slice(0, 120) }),
    ...(q.firstSource !== undefined && { firstSource: q.firstSource.slice(0, 200) }),
  }
}

/** From when on it counts, as the figures count: whole hours of passages, whole days of coming. Milliseconds since 1970. */
export const passedSince = (within: number, now: number): number => hourOf(now - within * 86_400_000)
export const cameSince = (within: number, now: number, zone: string): number => dayBegins(now - within * 86_400_000, zone)
