import { pairOf, supportFor, type Candidate } from '#core/learning/candidates'

/**
 * Chooses few rules that say together, as nearly as so few can, what a smoother model says (a weighted sum of squares on its log odds,
 * greedily, then each against all others once more). Pairs come in where they say more than either of their parts.
 */
const PAIRS_AMONG = 120
const PAIRS_KEPT = 150
/** A pair has to say so much more than a single one, for it is harder to read. */
const PAIR_PRICE = 1.25

/** @param target log odds, as many as rows; @param weight of each row; @param most rules */
export function selectRules(singles: Candidate[], rows: number, target: Float64Array, weight: Float64Array, most: number): Candidate[] {
  const fitted = new Float64Array(rows)
  const left = Float64Array.from(target)
  let whole = 0
  for (let i = 0; i < rows; i++) whole += weight[i]!
  const pool = [...singles]
  const isPair = (c: Candidate) => c.columns.length > 1

  /** By how much a rule would bring the sum of squares down. */
  function gainOf(c: Candidate, sum: number): number {
    let [w, wr] = [0, 0]
    const { rows: own } = c
    for (let k = 0; k < own.length; k++) {
      const i = own[k]!
      w += weight[i]!
      wr += weight[i]! * left[i]!
    }
    const spread = w * (1 - w / whole)
    if (spread < 1e-9) return 0
    const slope = wr - (w / whole) * sum
    return (slope * slope) / spread / (isPair(c) ? PAIR_PRICE : 1)
  }
  const sumLeft = () => {
    let sum = 0
    for (let i = 0; i < rows; i++) sum += weight[i]! * left[i]!
    return sum
  }
  function refit(chosen: Candidate[]): void {
    const weights = leastSquares(chosen, rows, target, weight)
    fitted.fill(weights[0]!)
    chosen.forEach((c, j) => {
      for (const i of c.rows) fitted[i]! += weights[j + 1]!
    })
    for (let i = 0; i < rows; i++) left[i] = target[i]! - fitted[i]!
  }
  const numbers = new Map(singles.map((c, i) => [c, i]))
  const numberOf = (c: Candidate) => numbers.get(c)!
  const pairsSeen = new Set<number>()
  /** Pairs among the single ones that say most of what is left. */
  function addPairs(chosen: Candidate[]): void {
    const sum = sumLeft()
    const by = (list: Candidate[]) => list.map(c => ({ c, gain: gainOf(c, sum) })).sort((a, b) => b.gain - a.gain)
    const fresh = by(singles)
      .slice(0, PAIRS_AMONG / 2)
      .map(x => x.c)
    const parts = [...new Set([...chosen.filter(c => !isPair(c)), ...fresh, ...first])]
    const least = supportFor(rows)
    const found: { c: Candidate; gain: number }[] = []
    for (let a = 0; a < parts.length; a++)
      for (let b = a + 1; b < parts.length; b++) {
        if (parts[a]!.columns[0] === parts[b]!.columns[0]) continue
        const key = numberOf(parts[a]!) * singles.length + numberOf(parts[b]!)
        if (pairsSeen.has(key)) continue
        pairsSeen.add(key)
        const pair = pairOf(parts[a]!, parts[b]!, least)
        if (pair) found.push({ c: pair, gain: gainOf(pair, sum) })
      }
    found.sort((a, b) => b.gain - a.gain)
    pool.push(...found.slice(0, PAIRS_KEPT).map(f => f.c))
  }

  refit([])
  const sum = sumLeft()
  const first = singles
    .map(c => ({ c, gain: gainOf(c, sum) }))
    .sort((a, b) => b.gain - a.gain)
    .slice(0, PAIRS_AMONG / 2)
    .map(x => x.c)
  const chosen: Candidate[] = []
  const best = (): { c: Candidate; gain: number } | null => {
    const now = sumLeft()
    let top: { c: Candidate; gain: number } | null = null
    for (const c of pool) {
      if (chosen.includes(c)) continue
      const gain = gainOf(c, now)
      if (gain > (top?.gain ?? 1e-9)) top = { c, gain }
    }
    return top
  }
  for (let n = 0; n < most; n++) {
    if (n % 5 === 0) addPairs(chosen)
    const next = best()
    if (!next) break
    chosen.push(next.c)
    refit(chosen)
  }
  // Each once more, against all others: what came first may have been overtaken.
  for (let n = 0; n < chosen.length; n++) {
    const [out] = chosen.splice(0, 1)
    refit(chosen)
    const next = best()
    chosen.push(next && !(gainOf(out!, sumLeft()) >= next.gain) ? next.c : out!)
    refit(chosen)
  }
  return chosen
}

/** The weights of a constant and of rules, by least squares with a breath of a penalty. */
function leastSquares(chosen: Candidate[], rows: number, target: Float64Array, weight: Float64Array): Float64Array {
  const k = chosen.length + 1
  const marks = chosen.map(c => {
    const mark = new Uint8Array(rows)
    for (const i of c.rows) mark[i] = 1
    return mark
  })
  const a = Array.from({ length: k }, () => new Float64Array(k))
  const b = new Float64Array(k)
  for (let i = 0; i < rows; i++) {
    a[0]![0]! += weight[i]!
    b[0]! += weight[i]! * target[i]!
  }
  chosen.forEach((c, j) => {
    for (const i of c.rows) {
      const w = weight[i]!
      b[j + 1]! += w * target[i]!
      a[j + 1]![0]! += w
      for (let m = 0; m <= j; m++) a[j + 1]![m + 1]! += w * marks[m]![i]!
    }
    a[j + 1]![j + 1]! += 1e-6 + 1e-4 * a[j + 1]![j + 1]!
  })
  for (let j = 0; j < k; j++) {
    for (let m = 0; m < j; m++) a[m]![j] = a[j]![m]!
  }
  return eliminate(a, b)
}

/** Solves A·x = b by Gaussian elimination with pivots; what cannot be told is 0. */
function eliminate(a: Float64Array[], b: Float64Array): Float64Array {
  const n = b.length
  for (let c = 0; c < n; c++) {
    let p = c
    for (let r = c + 1; r < n; r++) if (Math.abs(a[r]![c]!) > Math.abs(a[p]![c]!)) p = r
    ;[a[c], a[p]] = [a[p]!, a[c]!]
    ;[b[c], b[p]] = [b[p]!, b[c]!]
    if (Math.abs(a[c]![c]!) < 1e-12) continue
    for (let r = c + 1; r < n; r++) {
      const f = a[r]![c]! / a[c]![c]!
      if (f === 0) continue
      for (let k = c; k < n; k++) a[r]![k]! -= f * a[c]![k]!
      b[r]! -= f * b[c]!
    }
  }
  const x = new Float64Array(n)
  for (let c = n - 1; c >= 0; c--) {
    let v = b[c]!
    for (let k = c + 1; k < n; k++) v -= a[c]![k]! * x[k]!
    x[c] = Math.abs(a[c]![c]!) < 1e-12 ? 0 : v / a[c]![c]!
  }
  return x
}
