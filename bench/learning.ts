import { learnCard } from '#core/learning/learn'
import { scoreRows } from '#core/learning/score-rows'
import type { Row } from '#core/learning/table'
import { fitLogistic } from '#core/stats/logistic'
import { gains, rocArea } from '#core/stats/roc'
import { diceOf } from '#core/quiz/shuffle'
import { median } from './load'

const WORLDS = 30
const KINDS = ['sums of many columns', 'bounds', 'pairs that matter'] as const
const HIDDEN = 20_000
const POSITIVE = 0.06

/** A world whose truth is known: columns of small whole numbers that hang together, 6% positives. */
function world(seed: number) {
  const dice = diceOf(seed * 104_729 + 7)
  for (let i = 0; i < 20; i++) dice()
  const normal = () => Math.sqrt(-2 * Math.log(1 - dice())) * Math.cos(2 * Math.PI * dice())
  const kind = seed % 3
  const wide = 30 + Math.floor(dice() * 30)
  const levels = Array.from({ length: wide }, () => 2 + Math.floor(dice() * 8))
  const skew = levels.map(() => 0.5 + 2 * dice())
  const n = 4000 + Math.floor(dice() * 3000)
  const slopes = levels.map(() => (dice() < 0.3 ? normal() * 0.8 : 0))
  const bounds = levels.map(l => (dice() < 0.25 ? { cut: 1 + Math.floor(dice() * (l - 1)), weight: normal() } : null))
  const pairs = Array.from({ length: kind === 2 ? 6 : 0 }, () => ({
    a: Math.floor(dice() * wide),
    b: Math.floor(dice() * wide),
    weight: 1.2 + dice() * 1.2,
  }))
  const hidden = Array.from({ length: 4 }, () => levels.map(() => (dice() < 0.3 ? normal() * 0.7 : 0)))
  const draw = (rows: number) =>
    Array.from({ length: rows }, () => {
      const z = hidden.map(normal)
      return levels.map((l, j) => {
        const u = normal() + hidden.reduce((sum, h, k) => sum + h[j]! * z[k]!, 0)
        return Math.min(l - 1, Math.floor(l * (1 / (1 + Math.exp(-u))) ** skew[j]!))
      })
    })
  const middle = levels.map(l => (l - 1) / 2)
  const odds = (x: number[]) => {
    let sum = 0
    for (let j = 0; j < wide; j++) {
      if (kind !== 1) sum += ((slopes[j]! * (x[j]! - middle[j]!)) / Math.max(1, middle[j]!)) * (kind === 2 ? 0.5 : 1)
      else if (bounds[j] && x[j]! >= bounds[j]!.cut) sum += bounds[j]!.weight
    }
    for (const { a, b, weight } of pairs) if (x[a]! > middle[a]! && x[b]! > middle[b]!) sum += weight
    return sum
  }
  const [seen, later] = [draw(n), draw(HIDDEN)]
  const own = seen.map(odds)
  let [low, high] = [-20, 20]
  for (let k = 0; k < 60; k++) {
    const mid = (low + high) / 2
    if (own.reduce((s, e) => s + 1 / (1 + Math.exp(-(e + mid))), 0) / n < POSITIVE) low = mid
    else high = mid
  }
  const come = (e: number) => Number(dice() < 1 / (1 + Math.exp(-(e + low))))
  return { kind, wide, seen, later, outcome: own.map(come), outcomeLater: later.map(x => come(odds(x))), truth: later.map(odds) }
}
const asRows = (all: number[][]): Row[] => all.map(x => Object.fromEntries(x.map((v, j) => [`c${j}`, v])))
const mean = (all: number[]) => all.reduce((a, b) => a + b, 0) / all.length

/** How good learned cards are where the truth is known, how long learning takes, and how fast rows are scored. */
export function benchLearning(): void {
  const ahead: number[][] = [[], [], []]
  let inside = 0
  for (let seed = 1; seed <= WORLDS; seed++) {
    const { kind, wide, seen, later, outcome, outcomeLater, truth } = world(seed)
    const began = performance.now()
    const card = learnCard(asRows(seen), outcome, { seed })
    const seconds = (performance.now() - began) / 1000
    const mine = scoreRows(card.rules, asRows(later))
    const { weights } = fitLogistic(
      Array.from({ length: wide }, (_, j) => seen.map(x => x[j]!)),
      outcome,
      1e-6,
    )
    const plain = later.map(x => x.reduce((sum, v, j) => sum + weights[j]! * v, 0))
    const top = (scores: number[]) => gains(scores, outcomeLater, [0.2])[0]!.captured
    const { area } = rocArea(mine, outcomeLater)!
    const [low, high] = card.crossValidated.aucRange
    if (area >= low && area <= high) inside++
    ahead[kind]!.push(top(mine) - top(plain))
    console.log(
      `  world ${seed}, ${KINDS[kind]}: best fifth holds ${top(mine).toFixed(3)} by ${card.rules.length} rules, ${top(plain).toFixed(3)} by logistic regression on all ${wide} columns, ${top(truth).toFixed(3)} by the truth; area ${area.toFixed(3)}, claimed ${low.toFixed(3)} to ${high.toFixed(3)}; ${seconds.toFixed(1)} s`,
    )
  }
  console.log(
    `LEARNING  best fifth, ahead of plain logistic regression by ${mean(ahead.flat()).toFixed(4)} on average over ${WORLDS} worlds (aim: not below): ${KINDS.map((k, i) => `${k} ${mean(ahead[i]!).toFixed(4)}`).join(', ')}`,
  )
  console.log(`          the area on hidden rows lay within the claimed range in ${inside} of ${WORLDS} worlds (claimed: 95%)`)
  large()
  scoring()
}

/** 6,000 rows of 85 columns. */
function large(): void {
  const dice = diceOf(85)
  for (let i = 0; i < 20; i++) dice()
  const rows = Array.from({ length: 6000 }, () => Array.from({ length: 85 }, (_, j) => Math.floor(dice() ** (1 + (j % 3)) * (2 + (j % 9)))))
  const outcome = rows.map(x => Number(dice() < 1 / (1 + Math.exp(3.4 - 0.3 * x[1]! - 0.4 * x[5]! * Number(x[8]! > 2)))))
  const began = performance.now()
  learnCard(asRows(rows), outcome)
  console.log(`          6,000 rows of 85 columns in ${((performance.now() - began) / 1000).toFixed(1)} s (aim: 60)`)
}

/** Rows a second, by twenty rules. */
function scoring(): void {
  const dice = diceOf(20)
  const coded = Array.from({ length: 200_000 }, () =>
    Object.fromEntries(Array.from({ length: 20 }, (_, j) => [`c${j}`, Math.floor(dice() * 8)])),
  )
  const words = ['A school', 'A council', 'A restaurant', 'A market garden', 'At home']
  const texts = coded.slice(0, 50_000).map(row => Object.fromEntries(Object.entries(row).map(([k, v]) => [k, words[v % words.length]])))
  const rules = (value: (j: number) => number | string, is: 'equal' | 'at_least') =>
    Array.from({ length: 20 }, (_, j) => ({ points: (j % 7) - 3 || 1, when: { attribute: `c${j}`, is, value: value(j) } }))
  const speed = (rows: Row[], by: ReturnType<typeof rules>) => {
    const times = Array.from({ length: 7 }, () => {
      const began = performance.now()
      scoreRows(by, rows)
      return performance.now() - began
    })
    return Math.round(rows.length / (median(times) / 1000))
  }
  console.log(
    `SCORING   ${speed(
      coded,
      rules(j => j % 8, 'at_least'),
    ).toLocaleString('en')} coded rows a second by 20 rules (aim: 1,000,000), ${speed(
      texts,
      rules(j => words[j % 5]!, 'equal'),
    ).toLocaleString('en')} rows of texts (aim: 200,000)`,
  )
}
