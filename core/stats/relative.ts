import type { Arm } from '#core/stats/rivals'

/** How many times as often something happens to some as to all others, with its doubt. */
export interface Relative {
  ratio: number
  low: number
  high: number
  tooFew: boolean
}

/** Under so many to whom it happened, on either side, a ratio says nothing worth showing. */
export const FEWEST_ENDS = 5

/**
 * The ratio of two rates with its 95% interval on the logarithm (D. Katz et al., 1978).
 * @param some those of whom one asks
 * @param others all others
 */
export function relative(some: Arm, others: Arm, z = 1.959964): Relative {
  if (some.hits < FEWEST_ENDS || others.hits < FEWEST_ENDS) return { ratio: 1, low: 0, high: Infinity, tooFew: true }
  const ratio = some.hits / some.trials / (others.hits / others.trials)
  const half = z * Math.sqrt(Math.max(0, 1 / some.hits - 1 / some.trials + 1 / others.hits - 1 / others.trials))
  return { ratio, low: ratio * Math.exp(-half), high: ratio * Math.exp(half), tooFew: false }
}
