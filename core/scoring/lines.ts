import { apportion } from '#core/scoring/apportion'

/** One line of a score as it is kept: full points at the time they were given. */
export interface ReasonLine {
  axis: 'fit' | 'interest'
  rule: string
  name: string
  points: number
  at: number
  note?: string
}
/** The same as it is shown: `now` is what is left of it. Lines of an axis add up to the axis. */
export interface Reason extends ReasonLine {
  now: number
}
export interface Score {
  fit: number
  interest: number
  reasons: Reason[]
}

const DAY = 86_400_000

/** What is left of points after some time: halved with each half-life; nothing fades backwards. */
export function decayed(points: number, at: number, now: number, halfLifeDays: number): number {
  return points * 2 ** (-Math.max(0, now - at) / (halfLifeDays * DAY))
}

/** The line that stands for those that are too small or too many to be kept. */
export const EARLIER = 'earlier'

/** What is left of all interest at a moment, not rounded; worked out in the lines' own order. */
export const interestSum = (lines: ReasonLine[], now: number, halfLifeDays: number): number =>
  lines.reduce((sum, l) => (l.axis === 'interest' ? sum + decayed(l.points, l.at, now, halfLifeDays) : sum), 0)

/** A score at a moment, from its lines: whole points, and lines that add up to them. */
export function scoreAt(lines: ReasonLine[], now: number, halfLifeDays: number): Score {
  const fit = lines.filter(l => l.axis === 'fit').map(l => ({ ...l, now: l.points }))
  const interest = lines.filter(l => l.axis === 'interest')
  const left = apportion(interest.map(l => decayed(l.points, l.at, now, halfLifeDays)))
  // What is left of earlier lines has no points of its own, and is no line while it is nothing.
  const shown = interest
    .map((l, i) => ({ ...l, now: left[i]!, ...(l.rule === EARLIER && { points: left[i]! }) }))
    .filter(l => l.rule !== EARLIER || l.now !== 0)
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
