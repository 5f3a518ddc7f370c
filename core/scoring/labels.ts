import type { LabelHeld } from '#core/scoring/label-held'
import type { Scorecard } from '#core/scoring/scorecard'

export interface Labelled {
  label: string | null
  because: 'score' | 'point' | 'person' | 'none'
}

/** What a label hangs on beside the score. */
export interface LabelBasis {
  /** The label that holds now, which falls only by the margin. */
  label: string | null
  labelFloor: string | null
  labelHeld?: Pick<LabelHeld, 'how' | 'by'> | null
}

/**
 * The label that a score makes, unless one is fixed, and lifted to the floor that is held under it. With a margin a label that
 * holds goes on holding until fit or interest are so many points under its line.
 * @param order label keys, lowest first
 */
export function labelFor(
  { labels: rules, margin = 0 }: Pick<Scorecard, 'labels' | 'margin'>,
  order: string[],
  { fit, interest }: { fit: number; interest: number },
  { label: holds, labelFloor: floor, labelHeld = null }: LabelBasis,
): Labelled {
  const rank = (label: string | null) => (label === null ? -1 : order.indexOf(label))
  const because = labelHeld?.by ?? 'point'
  if (labelHeld?.how === 'fixed' && rank(floor) >= 0) return { label: floor, because }
  let label: string | null = null
  for (const rule of rules) {
    const less = margin > 0 && rank(rule.label) <= rank(holds) ? margin : 0
    if (fit >= rule.fit - less && interest >= rule.interest - less && rank(rule.label) > rank(label)) label = rule.label
  }
  if (rank(floor) > rank(label)) return { label: floor, because }
  return { label, because: label === null ? 'none' : 'score' }
}

/** The bounds of interest that labels have for so much fit: where one is crossed, the label may change. */
export const interestBounds = ({ labels, margin = 0 }: Pick<Scorecard, 'labels' | 'margin'>, fit: number): number[] => [
  ...labels.filter(rule => fit >= rule.fit).map(rule => rule.interest),
  ...(margin > 0 ? labels.filter(rule => fit >= rule.fit - margin).map(rule => rule.interest - margin) : []),
]
