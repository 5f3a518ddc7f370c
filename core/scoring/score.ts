import { holds, type Attributes, type Condition } from '#core/conditions/condition'
import type { Judged } from '#core/conditions/judge'
import { decayed, EARLIER, type ReasonLine } from '#core/scoring/lines'
import type { InterestRule, Scorecard } from '#core/scoring/scorecard'

/** Something a person did that may earn interest. `at` in milliseconds since 1970. */
export interface Activity { kind: InterestRule['on']; at: number; attributes: Attributes; note?: string }

const DAY = 86_400_000
/** A line with less than this left is put together with others. */
const SMALL = 0.05
const MOST_LINES = 300

/** Lines of a score, and until when they are sure if nobody does anything (milliseconds since 1970; interest fades all the same). */
export interface Lines { lines: ReasonLine[]; until: number }

/** Fit lines for what is known of a person; `before` keeps the time of lines that stood. */
export function fitLines(card: Scorecard, judge: (condition: Condition) => Judged, now: number, before: ReasonLine[] = []): Lines {
  const judged = card.fit.filter(rule => !rule.off).map(rule => ({ rule, ...judge(rule.when) }))
  const lines = judged.filter(j => j.holds).map(({ rule }): ReasonLine => {
    const stood = before.find(l => l.axis === 'fit' && l.rule === rule.key)
    return { axis: 'fit', rule: rule.key, name: rule.name, points: rule.points, at: stood?.at ?? now }
  })
  return { lines, until: Math.min(Infinity, ...judged.map(j => j.until)) }
}

/** Interest lines that an activity earns. Their conditions ask about the activity. */
export const interestLines = (card: Scorecard, activity: Activity): ReasonLine[] => card.interest
  .filter(rule => !rule.off && rule.on === activity.kind && (!rule.when || holds(rule.when, activity.attributes)))
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
    return rule && !rule.off ? [{ ...line, name: rule.name, points: rule.points }] : []
  })
}

const sameDay = (line: ReasonLine) => `${line.rule} ${Math.floor(line.at / DAY)} ${line.note ?? ''}`
