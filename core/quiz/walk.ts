import { bySpread, gains, nothingWon, type Start, type Way, type Won } from '#core/quiz/product'

/** The most ways that are walked one by one. */
export const MOST_WALKED = 2 ** 25

/** How many ways there are to answer all questions. */
export const waysOf = (questions: Way[][]): number => questions.reduce((n, ways) => n * ways.length, 1)

/** The same as `wonByStates`, each way by itself; what is decided is not walked further. Sums may be as large as they like. */
export function wonByWalking(starts: Start[], asked: Way[][], n: number): Won {
  // One that is always there, and changes nothing, so that there is a last one.
  const questions = asked.length ? bySpread(asked) : [[{ adds: Array<number>(n).fill(0), p: 1 }]]
  const result = nothingWon(n)
  const depth = questions.length
  const rows = Array.from({ length: depth + 1 }, () => new Float64Array(n))
  const adds = questions.map(ways => ways.map(w => Float64Array.from(w.adds)))
  const odds = questions.map(ways => Float64Array.from(ways, w => w.p))
  const lead = gains(questions, n)
  const { won, tied, reached } = result

  /** Of the last question nothing needs to be kept: most of the time goes by here. */
  function visitLast(mass: number): void {
    const sums = rows[depth - 1]!
    const ways = adds[depth - 1]!
    for (let w = 0; w < ways.length; w++) {
      const add = ways[w]!
      let best = 0
      let top = sums[0]! + add[0]!
      let isTie = false
      for (let j = 1; j < n; j++) {
        const sum = sums[j]! + add[j]!
        if (sum > top) {
          best = j
          top = sum
          isTie = false
        } else if (sum === top) isTie = true
      }
      const p = mass * odds[depth - 1]![w]!
      won[best]! += p
      if (isTie) tied[best]! += p
      reached[best] = true
    }
  }
  function visit(k: number, mass: number): void {
    const sums = rows[k]!
    const best = safeOne(sums, lead[k]!, n)
    if (best >= 0) {
      won[best]! += mass
      reached[best] = true
      return
    }
    const next = rows[k + 1]!
    const ways = adds[k]!
    for (let w = 0; w < ways.length; w++) {
      const add = ways[w]!
      for (let j = 0; j < n; j++) next[j] = sums[j]! + add[j]!
      if (k + 1 === depth - 1) visitLast(mass * odds[k]![w]!)
      else visit(k + 1, mass * odds[k]![w]!)
    }
  }
  for (const { sums, mass } of starts) {
    rows[0]!.set(sums)
    if (depth === 1) visitLast(mass)
    else visit(0, mass)
  }
  return result
}

/** The one that nobody can reach any more; -1: there is none. */
function safeOne(sums: Float64Array, gain: Float64Array, n: number): number {
  let best = 0
  for (let j = 1; j < n; j++) if (sums[j]! > sums[best]!) best = j
  for (let j = 0; j < n; j++) if (j !== best && sums[j]! + gain[j * n + best]! >= sums[best]!) return -1
  return best
}
