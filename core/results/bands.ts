/** Bands of numbers, so that answers and times can be counted without keeping each. */

/** A band of numbers: from `from` up to, but not with, `to`. */
export interface Band {
  from: number
  to: number
}

/**
 * The band of a number in steps of 1, 2 and 5 times the powers of ten, as rulers and coins have them: 0 to 1, 1 to 2, 2 to 5, 5 to 10 …
 * Numbers below zero have the same bands on their side.
 */
export function bandOf(n: number): Band {
  if (n < 0) {
    const { from, to } = aboveZero(-n)
    return { from: -to, to: -from }
  }
  return aboveZero(n)
}

function aboveZero(n: number): Band {
  if (n < 1) return { from: 0, to: 1 }
  let ten = 10 ** Math.floor(Math.log10(n))
  // The logarithm is rounded: a hair below a power of ten it names that power.
  if (ten > n) ten /= 10
  if (ten * 10 <= n) ten *= 10
  const step = [5, 2, 1].find(s => n >= s * ten)!
  return { from: step * ten, to: { 1: 2, 2: 5, 5: 10 }[step]! * ten }
}

/** A quarter of a doubling: a duration within a band differs from its middle by at most 9 %. */
const PER_DOUBLING = 4
/** The band of a duration, as a whole number that grows with it. @param ms milliseconds, over 0 */
export const durationBand = (ms: number): number => Math.floor(PER_DOUBLING * Math.log2(Math.max(1, ms)))

/** The median of durations that were counted by band; null without any. @returns milliseconds, the geometric middle of its band */
export function medianOf(counts: Map<number, number>): number | null {
  const all = [...counts.values()].reduce((sum, n) => sum + n, 0)
  let before = 0
  for (const [band, n] of [...counts].sort(([a], [b]) => a - b)) {
    before += n
    if (n > 0 && before * 2 >= all) return 2 ** ((band + 0.5) / PER_DOUBLING)
  }
  return null
}
