import type { LabelRule } from '#core/scoring/scorecard'

export interface Labelled { label: string | null; because: 'score' | 'point' | 'none' }

/**
 * The label that a score makes, lifted to the floor that a point gave.
 * @param order label keys, lowest first
 */
export function labelFor(rules: LabelRule[], order: string[], fit: number, interest: number, floor: string | null): Labelled {
  const rank = (label: string | null) => label === null ? -1 : order.indexOf(label)
  let label: string | null = null
  for (const rule of rules)
    if (fit >= rule.fit && interest >= rule.interest && rank(rule.label) > rank(label)) label = rule.label
  if (rank(floor) > rank(label)) return { label: floor, because: 'point' }
  return { label, because: label === null ? 'none' : 'score' }
}

/** The bounds of interest that labels have for so much fit: where one is crossed, the label may change. */
export const interestBounds = (rules: LabelRule[], fit: number): number[] => rules.filter(rule => fit >= rule.fit).map(rule => rule.interest)
