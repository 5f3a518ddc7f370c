/**
 * A number that orders leads by what is left of their interest at any one moment, and that fading does not change.
 *
 * With a half-life H all of a sum v fades alike: v(t') = v · 2^(−(t'−t)/H). So log2|v| + t/H stays the same while nothing is done, and
 * `sign(v) · (64 + log2|v| + (t − E)/H)` orders sums of either sign by what they are at any common moment, for a fixed early E.
 * What lies so near to nothing that it could not be told from it is 0.
 */
const DAY = 86_400_000
/** E: before anything that is kept. */
export const KEY_EPOCH = Date.UTC(2020, 0, 1)
/** 64 + log2 of the smallest sum is still above 0, so that all keys of a sign lie on one side of 0. */
const ABOVE = 64
const LEAST = 2 ** -10

/**
 * The key of a sum of interest.
 * @param sum points at the time; `at` in milliseconds since 1970; `halfLifeDays` of the scorecard that they fade by
 */
export function interestKey(sum: number, at: number, halfLifeDays: number): number {
  if (Math.abs(sum) < LEAST) return 0
  return Math.sign(sum) * (ABOVE + Math.log2(Math.abs(sum)) + (at - KEY_EPOCH) / (halfLifeDays * DAY))
}

/** What is left of the interest that a key stands for. */
export const interestAt = (key: number, now: number, halfLifeDays: number): number =>
  key === 0 ? 0 : Math.sign(key) * 2 ** (Math.abs(key) - ABOVE - (now - KEY_EPOCH) / (halfLifeDays * DAY))

/**
 * When a sum first comes to lie on the other side of one of some bounds, with nothing done: a positive one falls, a negative one
 * rises, and neither passes 0.
 * @param bounds of whole points: what counts is the rounded sum
 * @returns milliseconds since 1970, one behind the crossing; Infinity: never
 */
export function crossing(sum: number, at: number, halfLifeDays: number, bounds: number[]): number {
  const turns = bounds.flatMap(bound => {
    // The rounded sum is at least so much from half a point below it on.
    const line = Math.ceil(bound) - 0.5
    const ratio = sum / line
    // A positive one that lies on the line just now falls below it at once; a negative one has crossed it.
    return ratio > 1 || (ratio === 1 && sum > 0) ? [at + halfLifeDays * DAY * Math.log2(ratio)] : []
  })
  return turns.length ? Math.ceil(Math.min(...turns)) + 1 : Infinity
}

/** PostgreSQL refuses a power that is too small for a number; what is left by then is nothing. */
const FAINTEST = -1000
/** What is left of interest at a moment, as SQL over the lead `l`. @param now SQL of a timestamptz */
export const interestSql = (now: string): string => `case when l.interest_key = 0 then 0 else sign(l.interest_key)
  * power(2::float8, greatest(${FAINTEST}, abs(l.interest_key) - ${ABOVE}
    - extract(epoch from ${now} - '2020-01-01T00:00:00Z'::timestamptz)::float8 / (86400 * l.half_life_days))) end`
/** The same in whole points, rounded as `Math.round` does. */
export const wholeInterestSql = (now: string): string => `floor(${interestSql(now)} + 0.5)::int`
