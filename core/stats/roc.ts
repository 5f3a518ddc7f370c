/** The area under a ROC curve, with its doubt. All between 0 and 1. */
export interface RocArea {
  area: number
  low: number
  high: number
  variance: number
  /** How many with the outcome, and how many without. */
  positives: number
  negatives: number
}

/** Under so many of either kind a curve says nothing worth showing. */
export const LEAST_OF_EACH = 5

/** Ranks from 1, those of equal values shared evenly. */
function midranks(values: ArrayLike<number>): Float64Array {
  const order = Array.from({ length: values.length }, (_, i) => i).sort((a, b) => values[a]! - values[b]!)
  const ranks = new Float64Array(values.length)
  for (let from = 0; from < order.length;) {
    let to = from
    while (to < order.length && values[order[to]!] === values[order[from]!]) to++
    // The middle of the ranks from + 1 to `to`.
    for (let k = from; k < to; k++) ranks[order[k]!] = (from + 1 + to) / 2
    from = to
  }
  return ranks
}

/** How each positive and each negative fares against all of the other kind: the parts of which the area is the mean. */
interface Placements {
  ofPositives: Float64Array
  ofNegatives: Float64Array
}

/** By midranks, in the time of a sort (X. Sun and W. Xu, IEEE Signal Processing Letters 21, 2014). */
function placements(scores: ArrayLike<number>, outcomes: ArrayLike<number | boolean>): Placements {
  const positives: number[] = []
  const negatives: number[] = []
  for (let i = 0; i < scores.length; i++) (outcomes[i] ? positives : negatives).push(scores[i]!)
  const [m, n] = [positives.length, negatives.length]
  const all = midranks([...positives, ...negatives])
  const [own, others] = [midranks(positives), midranks(negatives)]
  return {
    ofPositives: Float64Array.from(positives, (_, i) => (all[i]! - own[i]!) / n),
    ofNegatives: Float64Array.from(negatives, (_, j) => 1 - (all[m + j]! - others[j]!) / m),
  }
}

const mean = (values: Float64Array) => values.reduce((sum, v) => sum + v, 0) / values.length
function covariance(a: Float64Array, b: Float64Array): number {
  if (a.length < 2) return 0
  const [x, y] = [mean(a), mean(b)]
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += (a[i]! - x) * (b[i]! - y)
  return sum / (a.length - 1)
}

/**
 * The area under the ROC curve: how likely somebody with the outcome has a higher score than somebody without, ties counting half; with
 * its 95% range (E. DeLong, D. DeLong and D. Clarke-Pearson, Biometrics 44, 1988), cut at 0 and 1.
 * In R: `ci.auc(roc(outcome, score, direction = "<"), method = "delong")` of the package pROC.
 * @param scores as many as outcomes
 * @returns null where one of the kinds has fewer than two
 */
export function rocArea(scores: ArrayLike<number>, outcomes: ArrayLike<number | boolean>, z = 1.959963984540054): RocArea | null {
  const { ofPositives, ofNegatives } = placements(scores, outcomes)
  const [positives, negatives] = [ofPositives.length, ofNegatives.length]
  if (positives < 2 || negatives < 2) return null
  const area = mean(ofPositives)
  const variance = covariance(ofPositives, ofPositives) / positives + covariance(ofNegatives, ofNegatives) / negatives
  const half = z * Math.sqrt(variance)
  return { area, low: Math.max(0, area - half), high: Math.min(1, area + half), variance, positives, negatives }
}

/**
 * How far two scores of the same people are apart in area, and how many standard errors that is (DeLong's test for paired curves).
 * In R: `roc.test(first, second, method = "delong", paired = TRUE)`.
 */
export function rocDifference(
  first: ArrayLike<number>,
  second: ArrayLike<number>,
  outcomes: ArrayLike<number | boolean>,
): { difference: number; z: number } | null {
  const [a, b] = [placements(first, outcomes), placements(second, outcomes)]
  const [m, n] = [a.ofPositives.length, a.ofNegatives.length]
  if (m < 2 || n < 2) return null
  const variance = (x: Placements, y: Placements) =>
    covariance(x.ofPositives, y.ofPositives) / m + covariance(x.ofNegatives, y.ofNegatives) / n
  const difference = mean(a.ofPositives) - mean(b.ofPositives)
  const error = Math.sqrt(Math.max(0, variance(a, a) + variance(b, b) - 2 * variance(a, b)))
  return { difference, z: error ? difference / error : 0 }
}

/**
 * The share of all with the outcome who stand among the best by score, at each of some shares of everybody. Where equal scores lie on
 * both sides of the cut, they count by their share of it.
 * @param shares from 0 to 1
 */
export function gains(
  scores: ArrayLike<number>,
  outcomes: ArrayLike<number | boolean>,
  shares: number[],
): { share: number; captured: number }[] {
  const order = Array.from({ length: scores.length }, (_, i) => i).sort((a, b) => scores[b]! - scores[a]!)
  /** Groups of equal scores, the best first: how many, and how many of them with the outcome. */
  const groups: { size: number; hits: number; score: number }[] = []
  for (const i of order) {
    const last = groups.at(-1)
    const hit = Number(Boolean(outcomes[i]))
    if (last && last.score === scores[i]) {
      last.size++
      last.hits += hit
    } else groups.push({ size: 1, hits: hit, score: scores[i]! })
  }
  const total = groups.reduce((sum, g) => sum + g.hits, 0)
  return shares.map(share => {
    let left = share * order.length
    let hits = 0
    for (const g of groups) {
      const taken = Math.min(g.size, left)
      hits += (g.hits * taken) / g.size
      left -= taken
      if (left <= 0) break
    }
    return { share, captured: total ? hits / total : 0 }
  })
}
