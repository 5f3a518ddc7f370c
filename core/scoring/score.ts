import { holds, type Attributes, type Condition } from '#core/conditions/condition'
import type { Judged } from '#core/conditions/judge'
import { apportion } from '#core/scoring/apportion'
import type { InterestRule, Scorecard } from '#core/scoring/scorecard'

/** One line of a score as it is kept: full points at the time they were given. */
export interface ReasonLine { axis: 'fit' | 'interest'; rule: string; name: string; points: number; at: number; note?: string }
/** The same as it is shown: `now` is what is left of it. Lines of an axis add up to the axis. */
export interface Reason extends ReasonLine { now: number }
export interface Score { fit: number; interest: number; reasons: Reason[] }

/** Something a person did that may earn interest. `at` in milliseconds since 1970. */
export interface Activity { kind: InterestRule['on']; at: number; attributes: Attributes; note?: string }

const DAY = 86_400_000
/** A line with less than this left is put together with others. */
const SMALL = 0.05
const MOST_LINES = 300

/** What is left of points after some time: halved with each half-life; nothing fades backwards. */
export function decayed(points: number, at: number, now: number, halfLifeDays: number): number {
  return points * 2 ** (-Math.max(0, now - at) / (halfLifeDays * DAY))
}

/** Lines of a score, and until when they are sure if nobody does anything (milliseconds since 1970; interest fades all the same). */
export interface Lines { lines: ReasonLine[]; until: number }

/** Fit lines for what is known of a person; `before` keeps the time of lines that stood. */
export function fitLines(card: Scorecard, judge: (condition: Condition) => Judged, now: number, before: ReasonLine[] = []): Lines {
  const judged = card.fit.map(rule => ({ rule, ...judge(rule.when) }))
  const lines = judged.filter(j => j.holds).map(({ rule }): ReasonLine => {
    const stood = before.find(l => l.axis === 'fit' && l.rule === rule.key)
    return { axis: 'fit', rule: rule.key, name: rule.name, points: rule.points, at: stood?.at ?? now }
  })
  return { lines, until: Math.min(Infinity, ...judged.map(j => j.until)) }
}

/** Interest lines that an activity earns. Their conditions ask about the activity. */
export const interestLines = (card: Scorecard, activity: Activity): ReasonLine[] => card.interest
  .filter(rule => rule.on === activity.kind && (!rule.when || holds(rule.when, activity.attributes)))
  .map(rule => ({ axis: 'interest', rule: rule.key, name: rule.name, points: rule.points, at: activity.at, ...(activity.note && { note: activity.note }) }))

/**
 * The lines of a lead after some activities: fit anew, interest with what is new.
 * A page, or an event of the site's, counts once a day for a rule. Doing it activity by activity or at once gives the same.
 */
export function withActivities(card: Scorecard, before: ReasonLine[], judge: (condition: Condition) => Judged, activities: Activity[], now: number): Lines {
  const kept = before.filter(l => l.axis === 'interest')
  const seen = new Set(kept.filter(l => l.note).map(sameDay))
  for (const activity of activities) {
    for (const line of interestLines(card, activity)) {
      if (activity.kind !== 'entry' && seen.has(sameDay(line))) continue
      if (activity.kind !== 'entry') seen.add(sameDay(line))
      kept.push(line)
    }
  }
  const interest = folded(kept.sort((a, b) => a.at - b.at || a.rule.localeCompare(b.rule)), now, card.halfLifeDays)
  const { lines, until } = fitLines(card, judge, now, before)
  return { lines: [...lines, ...interest], until }
}

/** The line that stands for those that are too small or too many to be kept. */
export const EARLIER = 'earlier'

/** Lines of interest with the small and the oldest of too many put together in one, so that nothing of them is lost. */
function folded(lines: ReasonLine[], now: number, halfLifeDays: number): ReasonLine[] {
  const left = (l: ReasonLine) => decayed(l.points, l.at, now, halfLifeDays)
  const large = lines.filter(l => l.rule !== EARLIER && Math.abs(left(l)) >= SMALL)
  const kept = large.slice(-MOST_LINES)
  if (kept.length === lines.length) return kept
  const rest = lines.filter(l => !kept.includes(l)).reduce((sum, l) => sum + left(l), 0)
  return Math.abs(rest) < 2 ** -10 ? kept : [{ axis: 'interest', rule: EARLIER, name: 'Earlier', points: rest, at: now }, ...kept]
}

/** Lines of interest as another scorecard has them: what its rules give now; those of rules that it has not are gone. */
export function repriced(card: Scorecard, lines: ReasonLine[]): ReasonLine[] {
  return lines.flatMap((line): ReasonLine[] => {
    if (line.axis === 'fit' || line.rule === EARLIER) return [line]
    const rule = card.interest.find(r => r.key === line.rule)
    return rule ? [{ ...line, name: rule.name, points: rule.points }] : []
  })
}

/** What is left of all interest at a moment, not rounded; worked out in the lines' own order. */
export const interestSum = (lines: ReasonLine[], now: number, halfLifeDays: number): number =>
  lines.reduce((sum, l) => l.axis === 'interest' ? sum + decayed(l.points, l.at, now, halfLifeDays) : sum, 0)

const sameDay = (line: ReasonLine) => `${line.rule} ${Math.floor(line.at / DAY)} ${line.note ?? ''}`

/** A score at a moment, from its lines: whole points, and lines that add up to them. */
export function scoreAt(lines: ReasonLine[], now: number, halfLifeDays: number): Score {
  const fit = lines.filter(l => l.axis === 'fit').map(l => ({ ...l, now: l.points }))
  const interest = lines.filter(l => l.axis === 'interest')
  const left = apportion(interest.map(l => decayed(l.points, l.at, now, halfLifeDays)))
  // What is left of earlier lines has no points of its own, and is no line while it is nothing.
  const shown = interest.map((l, i) => ({ ...l, now: left[i]!, ...(l.rule === EARLIER && { points: left[i]! }) })).filter(l => l.rule !== EARLIER || l.now !== 0)
  return { fit: sum(fit), interest: sum(shown), reasons: [...fit, ...shown] }
}

/** What the lines make of each axis at a moment, in whole points, as in `scoreAt`. */
export function totalsAt(lines: ReasonLine[], now: number, halfLifeDays: number): Pick<Score, 'fit' | 'interest'> {
  let [fit, interest] = [0, 0]
  for (const line of lines) {
    if (line.axis === 'fit') fit += line.points
    else interest += decayed(line.points, line.at, now, halfLifeDays)
  }
  return { fit, interest: Math.round(interest) }
}

const sum = (reasons: Reason[]) => reasons.reduce((n, r) => n + r.now, 0)
