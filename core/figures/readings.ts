import { DateTime } from 'luxon'
import { dayBegins } from '#core/calendar-days'
import { hourOf, type Delta } from '#core/figures/deltas'
import type { Passage } from '#core/figures/facets'
import type { Funnel } from '#core/team'
import type { Label, Status } from '#core/vocabulary'

/** What people read out of figures. Sums stand in the order of what each of these wants. */
type Sum = Pick<Delta, 'at' | 'key' | 'n'>

const DAY = 86_400_000
const total = (sums: Sum[], counts: (key: string[]) => boolean): number => sums.reduce((n, s) => (counts(s.key) ? n + s.n : n), 0)

/** The course's figures need these: how leads stand, what was passed and sent in the last seven days, and what was won in the last thirty. Each begins with its hour. */
export const funnelWants = (now: number) => [
  { figure: 'standing' as const },
  { figure: 'passed' as const, since: hourOf(now - 7 * DAY) },
  { figure: 'entries' as const, since: hourOf(now - 7 * DAY) },
  { figure: 'passed' as const, since: hourOf(now - 30 * DAY) },
]

/** The figures of the course for a member. */
export function funnelOf(
  [standing = [], week = [], entries = [], month = []]: Sum[][],
  { labels, statuses }: { labels: Label[]; statuses: Status[] },
  member: string,
): Funnel {
  const qualified = new Set(labels.flatMap(l => (l.qualified ? l.key : [])))
  const open = openStatuses(statuses)
  const passed = (sums: Sum[], passage: Passage) => total(sums, ([which]) => which === passage)
  return {
    today: total(standing, ([, owner, , waits]) => owner === member && waits === 'yes'),
    entries: total(entries, () => true),
    qualified: total(standing, ([label, , status, , sent]) => sent === 'yes' && qualified.has(label!) && open.has(status!)),
    unowned: total(standing, ([, owner, status, , sent]) => sent === 'yes' && owner === '' && open.has(status!)),
    waiting: total(standing, ([, , , waits]) => waits === 'yes'),
    won: passed(month, 'won'),
    passed: {
      toQualify: passed(week, 'entry'),
      toRoute: passed(week, 'owner'),
      toFollowUp: passed(week, 'worked'),
      toLearn: passed(week, 'closed'),
    },
  }
}

const openStatuses = (statuses: Status[]) => new Set(statuses.flatMap(s => (s.stage === 'first' || s.stage === 'open' ? s.key : [])))

/** How many open leads carry each label; null for none. */
export function labelsOf([standing = []]: Sum[][], statuses: Status[]): { label: string | null; leads: number }[] {
  const open = openStatuses(statuses)
  const counts = new Map<string, number>()
  for (const {
    key: [label, , status],
    n,
  } of standing)
    if (open.has(status!)) counts.set(label!, (counts.get(label!) ?? 0) + n)
  return [...counts].map(([label, leads]) => ({ label: label || null, leads }))
}

/** How many entries there are of each point, or through each page, in all and in the last seven days, which begin with their hour. */
export const entriesWant = (figure: 'entries' | 'landings', now: number) => [{ figure }, { figure, since: hourOf(now - 7 * DAY) }]

/** Entries of one of them. @param key the point's key, or the page's id */
export function entriesOf([all = [], week = []]: Sum[][], key: string): { entries: number; entriesWeek: number } {
  const of = (sums: Sum[]) => total(sums, ([which]) => which === key)
  return { entries: of(all), entriesWeek: of(week) }
}

/** What each owner has in hand: open leads, and people who wait. */
export function loadsOf([standing = []]: Sum[][], statuses: Status[]): Map<string, { open: number; waiting: number }> {
  const open = openStatuses(statuses)
  const loads = new Map<string, { open: number; waiting: number }>()
  for (const {
    key: [, owner, status, waits],
    n,
  } of standing) {
    if (!owner) continue
    const load = loads.get(owner) ?? { open: 0, waiting: 0 }
    if (open.has(status!)) load.open += n
    if (waits === 'yes') load.waiting += n
    loads.set(owner, load)
  }
  return loads
}

export interface Yield {
  key: string
  name: string
  leads: number
  qualified: number
  won: number
  lost: number
}

/** Reports need the leads that came since the beginning of a day, so many days ago: by point, by source, and by day. */
export function reportsWant(now: number, days: number, zone: string) {
  const cohort = { figure: 'cohort' as const, since: dayBegins(now - days * DAY, zone) }
  return [
    { ...cohort, parts: [0, 2, 3] },
    { ...cohort, parts: [1, 2, 3] },
    { ...cohort, parts: [2], apart: true },
  ]
}

const MOST_SOURCES = 20

/**
 * What became of the leads that first came through each point, and from each source; and how many came on each day, with how many
 * of them have qualified at some time.
 * @param names of points, by their keys
 */
export function reportsOf(
  [byPoint = [], bySource = [], perDay = []]: Sum[][],
  statuses: Status[],
  names: Map<string, string>,
  now: number,
  days: number,
  zone: string,
) {
  const stages = new Map(statuses.map(s => [s.key, s.stage]))
  const yields = (cohort: Sum[], name: (key: string) => string): Yield[] => {
    const rows = new Map<string, Yield>()
    for (const {
      key: [of, qualified, status],
      n,
    } of cohort) {
      // Who never sent an entry came through nothing.
      if (!of) continue
      const row = rows.get(of) ?? { key: of, name: name(of), leads: 0, qualified: 0, won: 0, lost: 0 }
      const stage = stages.get(status!)
      row.leads += n
      if (qualified === 'yes') row.qualified += n
      if (stage === 'won') row.won += n
      if (stage === 'lost') row.lost += n
      rows.set(of, row)
    }
    return [...rows.values()].filter(row => row.leads).sort((a, b) => b.leads - a.leads || a.name.localeCompare(b.name))
  }
  const counts = new Map<number, { leads: number; qualified: number }>()
  for (const {
    at,
    key: [qualified],
    n,
  } of perDay) {
    const { leads, qualified: before } = counts.get(at) ?? { leads: 0, qualified: 0 }
    counts.set(at, { leads: leads + n, qualified: before + (qualified === 'yes' ? n : 0) })
  }
  const byDay: { day: string; leads: number; qualified: number }[] = []
  const today = dayBegins(now, zone)
  for (let day = DateTime.fromMillis(now - days * DAY, { zone }).startOf('day'); day.toMillis() <= today; day = day.plus({ days: 1 })) {
    byDay.push({ day: day.toISODate()!, ...(counts.get(day.toMillis()) ?? { leads: 0, qualified: 0 }) })
  }
  return { points: yields(byPoint, key => names.get(key) ?? key), sources: yields(bySource, key => key).slice(0, MOST_SOURCES), byDay }
}
