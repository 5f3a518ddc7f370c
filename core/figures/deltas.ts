import { dayBegins } from '#core/calendar-days'
import { PASSAGES, type Facets } from '#core/figures/facets'
import type { Changes } from '#core/events/registry'

/**
 * What is counted. standing: leads as they stand, by label, owner, status, whether they wait, whether they sent something. passed:
 * leads by a passage, in the hour of their last. cohort: leads by the point and source of their first entry ('' without one), whether they ever
 * qualified, and status, on the day on which they came. entries, landings: entries by point and by landing page, in their hour.
 * list: leads on a list. What has no moment stands at 0.
 */
export const FIGURES = ['standing', 'passed', 'cohort', 'entries', 'landings', 'list'] as const
export type Figure = (typeof FIGURES)[number]

/** So many more, or fewer, of a figure under a key, in a bucket of time (its beginning, milliseconds since 1970). */
export interface Delta {
  figure: Figure
  at: number
  key: string[]
  n: number
}

const HOUR = 3_600_000
export const hourOf = (at: number): number => Math.floor(at / HOUR) * HOUR

const yes = (held?: true) => (held ? 'yes' : '')
export const standingKey = (f: Facets): string[] => [f.label ?? '', f.owner ?? '', f.status, yes(f.waiting), yes(f.submitted)]

/** Everything under which a lead is counted, once each. */
function placesOf(f: Facets, zone: string): Delta[] {
  return [
    { figure: 'standing', at: 0, key: standingKey(f), n: 1 },
    { figure: 'cohort', at: dayBegins(f.created, zone), key: [...(f.first ?? ['', '']), yes(f.qualified), f.status], n: 1 },
    ...PASSAGES.flatMap(passage =>
      f.last?.[passage] === undefined ? [] : [{ figure: 'passed' as const, at: hourOf(f.last[passage]), key: [passage], n: 1 }],
    ),
  ]
}

/**
 * What an event changes of the figures. It adds up: the same from any order of events, and from all at once.
 * @param before how the lead was counted until then; null when it was not
 * @param after how it is counted since; null when it is gone
 */
export function deltasOf(
  { at, changes }: { at: number; changes: Changes },
  before: Facets | null,
  after: Facets | null,
  zone: string,
): Delta[] {
  const { entry, lists } = changes
  return summed([
    ...(before ? placesOf(before, zone).map(d => ({ ...d, n: -1 })) : []),
    ...(after ? placesOf(after, zone) : []),
    ...(entry?.key ? [{ figure: 'entries' as const, at: hourOf(at), key: [entry.key], n: 1 }] : []),
    ...(entry?.landing ? [{ figure: 'landings' as const, at: hourOf(at), key: [entry.landing], n: 1 }] : []),
    ...(lists?.on ?? []).map(list => ({ figure: 'list' as const, at: 0, key: [list], n: 1 })),
    ...(lists?.off ?? []).map(list => ({ figure: 'list' as const, at: 0, key: [list], n: -1 })),
  ])
}

/** Deltas of the same as one: all that they say beside `n` is the same. What comes to nothing is left out. */
export function summed<D extends { n: number }>(deltas: D[]): D[] {
  const sums = new Map<string, D>()
  for (const delta of deltas) {
    const { n, ...of } = delta
    const name = JSON.stringify(Object.entries(of).sort(([a], [b]) => (a < b ? -1 : 1)))
    const sum = sums.get(name)
    if (sum) sum.n += n
    else sums.set(name, { ...delta })
  }
  return [...sums.values()].filter(d => d.n !== 0)
}
