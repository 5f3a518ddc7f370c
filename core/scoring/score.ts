import { holds, type Attributes, type Condition } from '#core/conditions/condition'
import type { Judged } from '#core/conditions/judge'
import { ONCE_A_DAY, type DeedKind } from '#core/scoring/deeds'
import { decayed, EARLIER, type ReasonLine } from '#core/scoring/lines'
import type { FitGroup, FitRule, InterestRule, Scorecard } from '#core/scoring/scorecard'

/** Something a person did that may earn interest. `at` in milliseconds since 1970. */
export interface Activity {
  kind: DeedKind
  at: number
  attributes: Attributes
  note?: string
  /** The keys of the rules that it is told for; without, for all. */
  only?: ReadonlySet<string>
}

const DAY = 86_400_000
/** A line with less than this left is put together with others. */
export const SMALL = 0.05
const MOST_LINES = 300

/** Lines of a score, and until when they are sure if nobody does anything (milliseconds since 1970; interest fades all the same). */
export interface Lines {
  lines: ReasonLine[]
  until: number
}

/** The moments from which and before which a rule counts. */
const periodOf = ({ from, until }: FitRule | InterestRule) => ({
  from: from ? Date.parse(from) : -Infinity,
  until: until ? Date.parse(until) : Infinity,
})

/** As judged, within the rule's own period. */
function during(rule: FitRule, judge: (condition: Condition) => Judged, now: number): Judged {
  if (!rule.from && !rule.until) return judge(rule.when)
  const { from, until } = periodOf(rule)
  if (now >= until) return { holds: false, until: Infinity }
  if (now < from) return { holds: false, until: from }
  const judged = judge(rule.when)
  return { holds: judged.holds, until: Math.min(judged.until, until) }
}

/** Fit lines for what is known of a person; `before` keeps the time of lines that stood. */
export function fitLines(card: Scorecard, judge: (condition: Condition) => Judged, now: number, before: ReasonLine[] = []): Lines {
  const judged = card.fit.filter(rule => !rule.off).map(rule => ({ rule, ...during(rule, judge, now) }))
  const holding = judged.filter(j => j.holds).map(j => j.rule)
  const given = withinGroups(card.groups ?? [], holding)
  const lines = holding.map((rule, i): ReasonLine => {
    const stood = before.find(l => l.axis === 'fit' && l.rule === rule.key)
    return { axis: 'fit', rule: rule.key, name: rule.name, at: stood?.at ?? now, ...given[i]! }
  })
  return { lines, until: Math.min(Infinity, ...judged.map(j => j.until)) }
}

/** What each of some rules gives, when all of a group together give no more than it lets them: the last ones give less. */
function withinGroups(groups: FitGroup[], rules: FitRule[]): { points: number; note?: string }[] {
  const given: { points: number; note?: string }[] = rules.map(({ points }) => ({ points }))
  for (const { key, name, most } of groups) {
    const own = rules.flatMap((rule, i) => (rule.group === key ? [i] : []))
    let over = own.reduce((sum, i) => sum + rules[i]!.points, 0) - most
    for (const i of own.reverse()) {
      const less = Math.min(over, given[i]!.points)
      if (less <= 0) continue
      over -= less
      given[i] = { points: given[i]!.points - less, note: `${rules[i]!.points} by itself; “${name}” gives at most ${most} together` }
    }
  }
  return given
}

/** The rules by which an activity earns interest. Their conditions ask about the activity. */
function earningRules(card: Scorecard, { kind, at, attributes, only }: Activity): InterestRule[] {
  return card.interest.filter(rule => {
    if (rule.off || rule.on !== kind || (only && !only.has(rule.key))) return false
    const { from, until } = periodOf(rule)
    return at >= from && at < until && (!rule.when || holds(rule.when, attributes))
  })
}
const lineOf = (rule: InterestRule, { at, note }: Activity): ReasonLine => ({
  axis: 'interest',
  rule: rule.key,
  name: rule.name,
  points: rule.points,
  at,
  ...(note && { note }),
})

/** Interest lines that an activity earns by itself. */
export const interestLines = (card: Scorecard, activity: Activity): ReasonLine[] =>
  earningRules(card, activity).map(rule => lineOf(rule, activity))

/**
 * The lines of a lead after some activities: fit anew, interest with what is new. Of some kinds the same counts once a day for a
 * rule, and a rule may count only so often in some days (as far as its lines are still kept: what has faded makes room).
 * Doing it activity by activity, as they were done, or at once gives the same.
 */
export function withActivities(
  card: Scorecard,
  before: ReasonLine[],
  judge: (condition: Condition) => Judged,
  activities: Activity[],
  now: number,
): Lines {
  const kept = before.filter(l => l.axis === 'interest')
  const seen = new Set(kept.filter(l => l.note).map(sameDay))
  for (const activity of activities.length > 1 ? activities.toSorted((a, b) => a.at - b.at) : activities) {
    for (const rule of earningRules(card, activity)) {
      const line = lineOf(rule, activity)
      if (ONCE_A_DAY.has(activity.kind) && seen.has(sameDay(line))) continue
      if (rule.most && isEnough(kept, line, rule.most)) continue
      if (ONCE_A_DAY.has(activity.kind)) seen.add(sameDay(line))
      kept.push(line)
    }
  }
  const interest = folded(
    kept.sort((a, b) => a.at - b.at || a.rule.localeCompare(b.rule)),
    now,
    card.halfLifeDays,
  )
  const { lines, until } = fitLines(card, judge, now, before)
  return { lines: [...lines, ...interest], until }
}

/** Whether a rule has counted often enough in the days up to a line. */
const isEnough = (kept: ReasonLine[], { rule, at }: ReasonLine, { times, days }: { times: number; days: number }): boolean =>
  kept.filter(l => l.rule === rule && l.at <= at && l.at > at - days * DAY).length >= times

/**
 * The interest of two leads as one's, within what rules allow a day and in so many days; fit is judged anew anyway.
 * @returns all lines, and those of the second that count
 */
export function mergedLines(card: Scorecard, first: ReasonLine[], second: ReasonLine[]): { lines: ReasonLine[]; added: ReasonLine[] } {
  const lines = [...first]
  const added: ReasonLine[] = []
  const seen = new Set(first.filter(l => l.note).map(sameDay))
  for (const line of second.filter(l => l.axis === 'interest')) {
    const rule = card.interest.find(r => r.key === line.rule)
    if (rule && ONCE_A_DAY.has(rule.on) && line.note && seen.has(sameDay(line))) continue
    if (rule?.most && isEnough(lines, line, rule.most)) continue
    lines.push(line)
    added.push(line)
  }
  return { lines, added }
}

/** Lines of interest with the small and the oldest of too many put together in one, so that nothing of them is lost. */
function folded(lines: ReasonLine[], now: number, halfLifeDays: number): ReasonLine[] {
  const left = (l: ReasonLine) => decayed(l.points, l.at, now, halfLifeDays)
  const large = lines.filter(l => l.rule !== EARLIER && Math.abs(left(l)) >= SMALL)
  const kept = large.slice(-MOST_LINES)
  if (kept.length === lines.length) return kept
  const rest = lines.filter(l => !kept.includes(l)).reduce((sum, l) => sum + left(l), 0)
  return Math.abs(rest) < 2 ** -10 ? kept : [{ axis: 'interest', rule: EARLIER, name: 'Earlier', points: rest, at: now }, ...kept]
}

/**
 * Lines of interest as another scorecard has them: what its rules give now; those of rules that it has not are gone.
 * @param anew rules that earn anew: their lines are gone, too
 */
export function repriced(card: Scorecard, lines: ReasonLine[], anew?: ReadonlySet<string>): ReasonLine[] {
  return lines.flatMap((line): ReasonLine[] => {
    if (line.axis === 'fit' || line.rule === EARLIER) return [line]
    const rule = card.interest.find(r => r.key === line.rule)
    return rule && !rule.off && !anew?.has(rule.key) ? [{ ...line, name: rule.name, points: rule.points }] : []
  })
}

const sameDay = (line: ReasonLine) => `${line.rule} ${Math.floor(line.at / DAY)} ${line.note ?? ''}`

/**
 * The rules of interest that ask otherwise than by another card, or that it has not: what they give can only be told from what
 * people did. Other points are no other question.
 * @param before null: there was none
 */
export function asksOtherwise(before: Scorecard | null, card: Scorecard): ReadonlySet<string> {
  const asks = ({ on, when, most, from, until }: InterestRule) =>
    JSON.stringify([on, when ?? null, most ?? null, from ?? null, until ?? null], inOneOrder)
  const was = new Map((before?.interest ?? []).filter(r => !r.off).map(r => [r.key, asks(r)]))
  return new Set(card.interest.filter(r => !r.off && was.get(r.key) !== asks(r)).map(r => r.key))
}

/** Activities as they are told to some rules only. */
export const toldTo = (activities: Activity[], only: ReadonlySet<string>): Activity[] => activities.map(a => ({ ...a, only }))

/** Keys in one order, however they were stored or read: the same condition is the same text. */
const inOneOrder = (_: string, value: unknown): unknown =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
    : value
