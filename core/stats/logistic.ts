/** A logistic regression: the log odds of the outcome are `intercept` and a `weight` for each column. */
export interface Logistic {
  intercept: number
  weights: number[]
  /** Standard errors, of the intercept first; those of a regularised fit are no measure of doubt, and it has none. */
  errors: number[] | null
  /** Whether it came to rest; without a penalty it does not where columns tell the outcomes apart for certain. */
  converged: boolean
  steps: number
}

const MOST_STEPS = 100

/**
 * Solves A·x = b for a symmetric positive definite A (Cholesky), which is overwritten with its factor.
 * @returns null where A is not positive definite
 */
function solve(a: Float64Array[], b: Float64Array): Float64Array | null {
  const n = b.length
  for (let j = 0; j < n; j++) {
    let d = a[j]![j]!
    for (let k = 0; k < j; k++) d -= a[j]![k]! ** 2
    if (!(d > 1e-300)) return null
    const root = (a[j]![j] = Math.sqrt(d))
    for (let i = j + 1; i < n; i++) {
      let s = a[i]![j]!
      for (let k = 0; k < j; k++) s -= a[i]![k]! * a[j]![k]!
      a[i]![j] = s / root
    }
  }
  return substitute(a, b)
}
/** Forward, then backward, by a factor of `solve`. */
function substitute(l: Float64Array[], b: ArrayLike<number>): Float64Array {
  const n = b.length
  const x = Float64Array.from(b)
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i]! -= l[i]![k]! * x[k]!
    x[i]! /= l[i]![i]!
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i]! -= l[k]![i]! * x[k]!
    x[i]! /= l[i]![i]!
  }
  return x
}

/** log(1 + e^x) without overflow. */
const softplus = (x: number) => (x > 0 ? x + Math.log1p(Math.exp(-x)) : Math.log1p(Math.exp(x)))

/**
 * Fits by Newton's method, halving steps that make it worse. With a penalty it minimises −log likelihood + penalty/2 · Σ weight², the
 * intercept free. In R, without one: `glm(outcome ~ ., family = binomial)`.
 * @param columns each as long as the outcomes, numbers only
 * @param outcomes 0 or 1
 * @param penalty at least 0
 * @throws RangeError when there is no row, a column has another length, or a number is none
 */
export function fitLogistic(columns: ArrayLike<number>[], outcomes: ArrayLike<number>, penalty = 0): Logistic {
  const [rows, wide] = [outcomes.length, columns.length + 1]
  if (!rows) throw new RangeError('There is no row to learn from.')
  for (const column of columns) {
    if (column.length !== rows) throw new RangeError(`A column has ${column.length} rows, and there are ${rows} outcomes.`)
    for (let i = 0; i < rows; i++) if (!Number.isFinite(column[i]!)) throw new RangeError('A column holds something that is no number.')
  }
  // Row by row, so that what is read together lies together.
  const x = new Float64Array(rows * wide)
  for (let j = 0; j < wide; j++) for (let i = 0; i < rows; i++) x[i * wide + j] = j ? columns[j - 1]![i]! : 1
  const etaOf = (b: Float64Array, i: number): number => {
    let eta = 0
    for (let j = 0, at = i * wide; j < wide; j++) eta += b[j]! * x[at + j]!
    return eta
  }
  const lossOf = (b: Float64Array): number => {
    let loss = 0
    for (let i = 0; i < rows; i++) {
      const eta = etaOf(b, i)
      loss += softplus(eta) - outcomes[i]! * eta
    }
    for (let j = 1; j < wide; j++) loss += (penalty / 2) * b[j]! ** 2
    return loss
  }
  /** Slope and curvature of the loss. */
  function derivatives(b: Float64Array) {
    const slope = new Float64Array(wide)
    const curve = Array.from({ length: wide }, () => new Float64Array(wide))
    for (let i = 0; i < rows; i++) {
      const p = 1 / (1 + Math.exp(-etaOf(b, i)))
      const w = p * (1 - p)
      const at = i * wide
      for (let j = 0; j < wide; j++) {
        const xj = x[at + j]!
        if (xj === 0) continue
        slope[j]! += (p - outcomes[i]!) * xj
        const row = curve[j]!
        const wx = w * xj
        for (let k = 0; k <= j; k++) row[k]! += wx * x[at + k]!
      }
    }
    for (let j = 1; j < wide; j++) {
      slope[j]! += penalty * b[j]!
      curve[j]![j]! += penalty
    }
    return { slope, curve }
  }

  let b: Float64Array = new Float64Array(wide)
  let loss = lossOf(b)
  let converged = false
  let steps = 0
  while (steps < MOST_STEPS && !converged) {
    steps++
    const { slope, curve } = derivatives(b)
    const step = solve(curve, slope)
    // Columns that say the same, or outcomes told apart for certain: there is no one answer.
    if (!step) break
    let share = 1
    let next = b
    let now = Infinity
    for (; share > 1e-10; share /= 2) {
      next = Float64Array.from(b, (v, j) => v - share * step[j]!)
      now = lossOf(next)
      if (now <= loss + 1e-12) break
    }
    const moved = Math.max(...step.map((s, j) => Math.abs(share * s) / (1 + Math.abs(b[j]!))))
    converged = moved < 1e-10
    b = next
    loss = now
    if (b.some(v => Math.abs(v) > 1e4)) break
  }
  const { curve } = derivatives(b)
  const isSolved = penalty === 0 && converged && solve(curve, new Float64Array(wide)) !== null
  const unit = (j: number) => Float64Array.from({ length: wide }, (_, k) => Number(k === j))
  return {
    intercept: b[0]!,
    weights: [...b.subarray(1)],
    errors: isSolved ? Array.from({ length: wide }, (_, j) => Math.sqrt(substitute(curve, unit(j))[j]!)) : null,
    converged,
    steps,
  }
}

/** How likely the outcome is for a row. */
export const likelihood = ({ intercept, weights }: Pick<Logistic, 'intercept' | 'weights'>, row: ArrayLike<number>): number => {
  let eta = intercept
  for (let j = 0; j < weights.length; j++) eta += weights[j]! * row[j]!
  return 1 / (1 + Math.exp(-eta))
}
