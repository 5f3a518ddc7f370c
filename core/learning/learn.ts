import { boost, boostedSays } from '#core/learning/boosted'
import { singleCandidates, type Candidate } from '#core/learning/candidates'
import { scorerOf, type LearnedRule } from '#core/learning/score-rows'
import { selectRules } from '#core/learning/select'
import { readTable, rowsOf, type Row, type Table } from '#core/learning/table'
import { diceOf, shuffled } from '#core/quiz/shuffle'
import { fitLogistic } from '#core/stats/logistic'
import { gains, rocArea } from '#core/stats/roc'

export interface Learned {
  rules: LearnedRule[]
  /** Log odds of the outcome at no points, and what a point adds to them. */
  intercept: number
  perPoint: number
  crossValidated: {
    auc: number
    /** 95%, for which people it meets and which it was learned from. */
    aucRange: [number, number]
    /** How many of those with the outcome stand among the best of each share of everybody. */
    topShare: { share: number; captured: number }[]
  }
  rows: number
  positives: number
  notes: string[]
}
export interface LearnOptions {
  /** At most so many rules; 20. */
  maxRules?: number
  /** The same gives the same card; 1. */
  seed?: number
  /** Columns whose names begin so count something. */
  counts?: string
  /** Is told how far it has come, from 0 to 1. */
  onProgress?: (share: number) => void
}

/** Fewer of either kind teach nothing that would hold for others. */
export const LEAST_ENDS = 30
export const MOST_RULES = 50
const FOLDS = 5
const Z95 = 1.959963984540054
/**
 * DeLong's range is of these cards on other people; another sample would have taught other cards, too. So much wider it holds as often
 * as it says, measured over generated worlds (`npm run bench -- learning`; as it is it held in 24 of 30).
 */
const WIDER = 1.5
const SHARES = [0.05, 0.1, 0.2, 0.3, 0.5]
/** The largest number of points that a rule may have, tried from the smallest on. */
const SCALES = [3, 4, 5, 6, 8, 10, 12, 15, 20, 30]
/** As much of what rules tell may get lost by rounding. */
const LOST = 0.005

/**
 * Learns a scorecard of few rules with whole points from rows whose outcome is known. A smooth model is made first (a penalised
 * logistic regression and boosted trees, together); then few rules are chosen that say nearly the same, are weighed anew and rounded.
 * All of it, with the choice of the rules, is done again without each fifth of the rows, on which it is tried.
 * @param outcome 0 or 1, as many as rows
 * @throws RangeError in words
 */
export function learnCard(
  rows: Row[],
  outcome: number[],
  { maxRules = 20, seed = 1, counts, onProgress = () => {} }: LearnOptions = {},
): Learned {
  if (rows.length !== outcome.length)
    throw new RangeError(`There are ${rows.length} rows and ${outcome.length} outcomes; each row needs one.`)
  const wrong = outcome.findIndex(o => o !== 0 && o !== 1)
  if (wrong >= 0) throw new RangeError(`The outcome of row ${wrong + 1} is neither 0 nor 1.`)
  const positives = outcome.reduce((a, b) => a + b, 0)
  const fewer = Math.min(positives, rows.length - positives)
  if (fewer < LEAST_ENDS)
    throw new RangeError(
      `${positives} of ${rows.length} came to it. At least ${LEAST_ENDS} who did and ${LEAST_ENDS} who did not are needed: from fewer one learns chance, not rules.`,
    )
  const table = readTable(rows)
  if (!table.columns.length) throw new RangeError('No column tells one row from another.')
  const folds = foldsOf(outcome, diceOf(seed))
  const out = new Float64Array(rows.length)
  for (let f = 0; f < FOLDS; f++) {
    const inside: number[] = []
    const outside: number[] = []
    folds.forEach((fold, i) => (fold === f ? outside : inside).push(i))
    const card = cardFrom(
      rowsOf(table, inside),
      inside.map(i => outcome[i]!),
      { maxRules, counts, seed: seed + 1 + f },
    )
    const score = scorerOf(card.rules)
    for (const i of outside) out[i] = card.intercept + card.perPoint * score(rows[i]!)
    onProgress((f + 1) / (FOLDS + 1))
  }
  const card = cardFrom(table, outcome, { maxRules, counts, seed })
  const area = rocArea(out, outcome, Z95 * WIDER)!
  onProgress(1)
  return {
    ...card,
    crossValidated: { auc: area.area, aucRange: [area.low, area.high], topShare: gains(out, outcome, SHARES) },
    rows: rows.length,
    positives,
    notes: table.notes,
  }
}

/** As many of each outcome in each. */
function foldsOf(outcome: number[], dice: () => number): Int32Array {
  const folds = new Int32Array(outcome.length)
  for (const kind of [0, 1])
    shuffled(
      outcome.flatMap((o, i) => (o === kind ? [i] : [])),
      dice,
    ).forEach((i, n) => (folds[i] = n % FOLDS))
  return folds
}

const SETS = 8
const ROUNDS = 60

type How = Pick<LearnOptions, 'counts'> & { maxRules: number; seed: number }
function cardFrom(table: Table, outcome: number[], { maxRules, counts, seed }: How): Pick<Learned, 'rules' | 'intercept' | 'perPoint'> {
  const dice = diceOf(seed * 7919 + 13)
  const n = table.rows
  const linear = linearSays(table, outcome)
  const trees = boostedSays(boost(table, outcome, dice, SETS, ROUNDS), n)
  const target = Float64Array.from(linear, (v, i) => (v + trees[i]!) / 2)
  const weight = target.map(z => {
    const p = 1 / (1 + Math.exp(-z))
    return Math.max(0.02, p * (1 - p))
  })
  const chosen = selectRules(singleCandidates(table, counts), n, nudged(target, outcome), weight, maxRules)
  const columns = chosen.map(c => marksOf(c, n))
  // What is known, and what the smooth model makes of it, count alike.
  const blend = Float64Array.from(outcome, (o, i) => (o + 1 / (1 + Math.exp(-target[i]!))) / 2)
  const { weights } = fitLogistic(columns, blend, 1)
  const points = rounded(columns, weights, blend)
  const kept = chosen.flatMap((c, j) => (points[j] ? [{ when: c.when, points: points[j]! }] : []))
  const sums = sumsOf(columns, points)
  const last = fitLogistic([sums], Float64Array.from(outcome), 1e-6)
  return { rules: kept.sort((a, b) => b.points - a.points), intercept: last.intercept, perPoint: last.weights[0]! }
}

/** How much of what the smooth model leaves unsaid the choice of rules looks at itself (a part of Newton's step on the outcomes). */
const NUDGE = 0.3
const nudged = (target: Float64Array, outcome: number[]): Float64Array =>
  target.map((z, i) => {
    const p = 1 / (1 + Math.exp(-z))
    return z + (NUDGE * (outcome[i]! - p)) / Math.max(0.02, p * (1 - p))
  })

const marksOf = (c: Candidate, n: number): Uint8Array => {
  const marks = new Uint8Array(n)
  for (const i of c.rows) marks[i] = 1
  return marks
}
function sumsOf(columns: Uint8Array[], points: number[]): Float64Array {
  const sums = new Float64Array(columns[0]?.length ?? 0)
  columns.forEach((c, j) => {
    if (points[j]) for (let i = 0; i < sums.length; i++) sums[i]! += points[j]! * c[i]!
  })
  return sums
}

/** Whole points, as small as they may be without losing much of what the weights tell. */
function rounded(columns: Uint8Array[], weights: number[], outcome: Float64Array): number[] {
  const largest = Math.max(...weights.map(Math.abs), 1e-9)
  const loss = (scores: ArrayLike<number>) => {
    const {
      intercept,
      weights: [slope],
    } = fitLogistic([scores], outcome, 1e-6)
    let sum = 0
    for (let i = 0; i < outcome.length; i++) {
      const eta = intercept + slope! * scores[i]!
      sum += Math.log1p(Math.exp(-Math.abs(eta))) + Math.max(eta, 0) - outcome[i]! * eta
    }
    return sum
  }
  const exact = loss(sumsOf(columns, weights))
  const nothing = loss(new Float64Array(outcome.length))
  let points = weights.map(w => Math.round((w / largest) * SCALES.at(-1)!))
  for (const scale of SCALES) {
    const tried = weights.map(w => Math.round((w / largest) * scale))
    if (tried.some(p => p !== 0) && loss(sumsOf(columns, tried)) - exact <= LOST * (nothing - exact)) {
      points = tried
      break
    }
  }
  return points
}

/** Columns of numbers are taken as they are, choices one by one; more than so many are the most frequent. */
const MOST_LINEAR = 250
const MOST_CELLS = 8_000_000
/** What a penalised logistic regression says of the rows, as log odds. */
function linearSays(table: Table, outcome: number[]): Float64Array {
  const columns: Float64Array[] = []
  const standard = (values: Float64Array) => {
    let [sum, squares, known] = [0, 0, 0]
    for (const v of values) {
      if (Number.isNaN(v)) continue
      sum += v
      squares += v * v
      known++
    }
    const mean = sum / known
    const deviation = Math.sqrt(Math.max(0, squares / known - mean * mean)) || 1
    return values.map(v => (Number.isNaN(v) ? 0 : Math.max(-6, Math.min(6, (v - mean) / deviation))))
  }
  const choices: { marks: Float64Array; count: number }[] = []
  for (const c of table.columns) {
    if (c.kind === 'number') columns.push(standard(c.values))
    else
      c.names.forEach((_, code) => {
        const marks = new Float64Array(table.rows)
        let count = 0
        c.codes.forEach((codes, i) => {
          if (!codes.includes(code)) return
          marks[i] = 1
          count++
        })
        if (count >= 8) choices.push({ marks, count })
      })
  }
  choices.sort((a, b) => b.count - a.count)
  columns.push(...choices.slice(0, Math.max(0, MOST_LINEAR - columns.length)).map(c => standard(c.marks)))
  // Of so many numbers the first serve as well: trees look at all.
  const used = columns.slice(0, Math.max(20, Math.min(MOST_LINEAR, Math.floor(MOST_CELLS / table.rows))))
  const { intercept, weights } = fitLogistic(used, outcome, 20)
  return Float64Array.from({ length: table.rows }, (_, i) => used.reduce((sum, c, j) => sum + weights[j]! * c[i]!, intercept))
}
