import { apportion } from '#core/scoring/apportion'
import { crossing } from '#core/scoring/interest-key'
import { endHold, type LabelHeld } from '#core/scoring/label-held'
import { interestBounds, labelFor } from '#core/scoring/labels'
import { decayed } from '#core/scoring/lines'
import type { Scorecard } from '#core/scoring/scorecard'

/** What a lead's score was behind something that happened. `at` in milliseconds since 1970; interest not rounded. */
export interface ScoreMoment {
  at: number
  fit: number
  interest: number
  /** The half-life by which interest fades from here on. */
  halfLifeDays: number
  label: string | null
}

/** What something that happened added to a score, and what is left of it at the moment that is asked for; whole points. */
export interface ScorePart {
  /** The place among the moments. */
  of: number
  fit: number
  interest: number
}
export interface ScoreThen {
  fit: number
  interest: number
  label: string | null
  /** They add up to fit and interest. */
  parts: ScorePart[]
}

/**
 * Moments as a time line has them: what was written later does not lie before what was written earlier, although two who change a
 * lead at once may look at their clocks the other way round. What is moved so fades for as long as it is moved.
 * @param moments in the order in which they took effect
 */
export function inTimeOrder<M extends ScoreMoment>(moments: M[]): M[] {
  let last = -Infinity
  return moments.map(m => {
    const at = (last = Math.max(last, m.at))
    return at === m.at ? m : { ...m, at, interest: decayed(m.interest, m.at, at, m.halfLifeDays) }
  })
}

/**
 * The score of a lead at a moment of the past, and what had made it: each event keeps fit and interest as they were behind it, and
 * between two of them interest fades and nothing else happens.
 * @param moments in their order
 * @param at milliseconds since 1970
 */
export function scoreThen(moments: ScoreMoment[], at: number): ScoreThen {
  const until = moments.findLastIndex(m => m.at <= at)
  if (until < 0) return { fit: 0, interest: 0, label: null, parts: [] }
  const added: { of: number; fit: number; interest: number }[] = []
  /** What is left at the moment of what was there behind an event. */
  let left = decayed(1, moments[until]!.at, at, moments[until]!.halfLifeDays)
  for (let i = until; i >= 0; i--) {
    const { fit, interest } = moments[i]!
    const before = moments[i - 1]
    const faded = before ? decayed(1, before.at, moments[i]!.at, before.halfLifeDays) : 1
    added.push({ of: i, fit: fit - (before?.fit ?? 0), interest: (interest - (before ? before.interest * faded : 0)) * left })
    left *= faded
  }
  added.reverse()
  const whole = apportion(added.map(a => a.interest))
  const parts = added.map((a, i) => ({ ...a, interest: whole[i]! })).filter(a => a.fit !== 0 || a.interest !== 0)
  return { fit: moments[until]!.fit, interest: whole.reduce((a, b) => a + b, 0), label: moments[until]!.label, parts }
}

/** Interest at a moment, not rounded; 0 before anything happened. */
export function interestThen(moments: ScoreMoment[], at: number): number {
  const last = moments.findLast(m => m.at <= at)
  return last ? decayed(last.interest, last.at, at, last.halfLifeDays) : 0
}

/**
 * When a label falls (or rises, where interest is below nothing) if nobody does anything, and to which.
 * @param order label keys, the lowest first
 * @param sum interest at the moment, not rounded
 * @returns null: it stays
 */
export function nextLabel(
  card: Pick<Scorecard, 'labels' | 'margin' | 'halfLifeDays'>,
  order: string[],
  { fit, sum, ...lead }: { fit: number; sum: number; label: string | null; labelFloor: string | null; labelHeld: LabelHeld | null },
  at: number,
): { at: number; label: string | null } | null {
  const { halfLifeDays } = card
  const held = { labelFloor: lead.labelFloor, labelHeld: lead.labelHeld }
  const labelAt = (moment: number) =>
    labelFor(card, order, { fit, interest: Math.round(decayed(sum, at, moment, halfLifeDays)) }, { ...held, label: lead.label }).label
  const now = labelAt(at)
  const bounds = interestBounds(card, fit)
  for (let moment = at; ;) {
    const next = crossing(decayed(sum, at, moment, halfLifeDays), moment, halfLifeDays, bounds)
    const ends = held.labelHeld?.until ?? Infinity
    if (ends > at && ends <= next && ends < Infinity) {
      endHold(held, ends)
      if (labelAt(ends) !== now) return { at: ends, label: labelAt(ends) }
      continue
    }
    if (next === Infinity) return null
    if (labelAt(next) !== now) return { at: next, label: labelAt(next) }
    moment = next
  }
}
