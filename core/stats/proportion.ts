/** A share with its doubt. All between 0 and 1. */
export interface Proportion {
  rate: number
  low: number
  high: number
  tooFew: boolean
}

/** Under this many trials a rate says nothing worth showing. */
export const HANDFUL = 12

/**
 * A proportion with its 95% Wilson score interval (E. B. Wilson, 1927), which stays
 * honest for small counts and rates near 0 or 1.
 * @param hits how many of them did it, 0 to `trials`
 */
export function proportion(hits: number, trials: number, z = 1.959964): Proportion {
  if (trials <= 0) return { rate: 0, low: 0, high: 1, tooFew: true }
  const p = hits / trials
  const z2 = z * z
  const middle = (p + z2 / (2 * trials)) / (1 + z2 / trials)
  const half = (z / (1 + z2 / trials)) * Math.sqrt((p * (1 - p)) / trials + z2 / (4 * trials * trials))
  return { rate: p, low: Math.max(0, middle - half), high: Math.min(1, middle + half), tooFew: trials < HANDFUL }
}
