import { nothingWon, wonByStates, type Way } from '#core/quiz/product'
import { balanceOf, errorOf } from '#core/quiz/balance'
import { blankQuestion, type Question } from '#core/points/definition'
import { blankResult, quizOf } from '#core/quiz/starters'
import { wonByWalking } from '#core/quiz/walk'
import { createDice } from '../demo/dice'
import { median } from './load'

const OUTCOMES = 6
const ANSWERS = 4
const ROUNDS = 7

const dice = (seed: number) => createDice(seed).next
/** Each answer feeds all outcomes, or one or two, with weights from 0 to `most`. */
function quiz(size: number, most: number, sparse: boolean, random: () => number): Way[][] {
  const weight = () => Math.floor(random() * (most + 1))
  const row = () => {
    if (!sparse) return Array.from({ length: OUTCOMES }, weight)
    const adds = Array<number>(OUTCOMES).fill(0)
    for (let n = random() < 0.5 ? 1 : 2; n > 0; n--) adds[Math.floor(random() * OUTCOMES)] = weight()
    return adds
  }
  return Array.from({ length: size }, () => Array.from({ length: ANSWERS }, () => ({ adds: row(), p: 1 / ANSWERS })))
}

/** The floor: each way by itself, to its end. */
function eachWay(questions: Way[][]): number[] {
  const { won } = nothingWon(OUTCOMES)
  const rows = Array.from({ length: questions.length + 1 }, () => new Float64Array(OUTCOMES))
  const adds = questions.map(ways => ways.map(w => Float64Array.from(w.adds)))
  const visit = (k: number, p: number): void => {
    const sums = rows[k]!
    if (k === questions.length) {
      let best = 0
      for (let j = 1; j < OUTCOMES; j++) if (sums[j]! > sums[best]!) best = j
      won[best]! += p
      return
    }
    const next = rows[k + 1]!
    for (const add of adds[k]!) {
      for (let j = 0; j < OUTCOMES; j++) next[j] = sums[j]! + add[j]!
      visit(k + 1, p / ANSWERS)
    }
  }
  visit(0, 1)
  return won
}

const START = [{ sums: Array<number>(OUTCOMES).fill(0), mass: 1 }]
function timed<T>(work: () => T): { ms: number; made: T } {
  const from = performance.now()
  const made = work()
  return { ms: performance.now() - from, made }
}
const apart = (a: number[], b: number[]) => Math.max(...a.map((x, i) => Math.abs(x - b[i]!)))
/** Megabytes that the process holds at most, looked at after each piece of work. */
const megabytes = () => Math.round(process.memoryUsage().rss / 1e6)

/** How long it takes to work out how often each outcome of a quiz comes up, beside walking each way. Needs no house. */
export function benchBalance(): void {
  const random = dice(15)
  // Both are warm before anything is measured.
  eachWay(quiz(8, 3, false, random))
  wonByStates(START, quiz(8, 3, false, random), OUTCOMES)
  for (const [name, sparse] of [
    ['feeding all outcomes', false],
    ['feeding one or two', true],
  ] as const) {
    const rounds = Array.from({ length: ROUNDS }, () => {
      const questions = quiz(12, 3, sparse, random)
      const floor = timed(() => eachWay(questions))
      const ours = timed(() => wonByStates(START, questions, OUTCOMES)!)
      return { ratio: floor.ms / ours.ms, floor: floor.ms, ours: ours.ms, off: apart(floor.made, ours.made.won) }
    })
    console.log(
      `BALANCE   12 questions of ${ANSWERS} answers, weights from 0 to 3 ${name}: ${median(rounds.map(r => r.ours)).toFixed(0)} ms, ${median(rounds.map(r => r.ratio)).toFixed(1)} times faster than walking each of ${(ANSWERS ** 12 / 1e6).toFixed(1)} million ways (${rounds.map(r => r.ratio.toFixed(1)).join(', ')}; ${median(rounds.map(r => r.floor)).toFixed(0)} ms; aim: 5 times); off by ${Math.max(...rounds.map(r => r.off)).toExponential(0)} at most`,
    )
  }
  const large = Array.from({ length: ROUNDS }, () => {
    const questions = quiz(12, 1e9, false, random)
    return timed(() => wonByStates(START, questions, OUTCOMES) ?? wonByWalking(START, questions, OUTCOMES)).ms
  })
  console.log(
    `BALANCE   the same, weights up to a thousand million: ${median(large).toFixed(0)} ms, slowest ${Math.max(...large).toFixed(0)} (aim: 2000 ms)`,
  )
  const before = megabytes()
  const long = Array.from({ length: 5 }, () => {
    const questions = quiz(24, 3, true, random)
    const { ms, made } = timed(() => wonByStates(START, questions, OUTCOMES))
    return { ms: made ? ms : NaN, mb: megabytes() }
  })
  console.log(
    `BALANCE   24 questions, weights from 0 to 3 feeding one or two: ${median(long.map(r => r.ms)).toFixed(0)} ms, slowest ${Math.max(...long.map(r => r.ms)).toFixed(0)} (aim: 10000 ms), ${Math.max(...long.map(r => r.mb)) - before} MB more held by the process (${before} before; aim: 500 MB)`,
  )
  sampledOnes(random)
}

/** A quiz too large to be worked out, with as many questions as there may be, and how far two drawings of it lie apart. */
function sampledOnes(random: () => number): void {
  const results = Array.from({ length: OUTCOMES }, (_, o) => blankResult(`o${o}`, ''))
  const big = quizOf('outcomes', results)
  const meaning = () => ({
    right: false,
    said: '',
    picture: null,
    weights: results.map(r => ({ to: r.key, n: Math.floor((random() - 0.5) * 2e9) })),
  })
  const questions: Question[] = Array.from({ length: 40 }, (_, i) =>
    blankQuestion({
      key: `q${i}`,
      kind: 'one_of',
      required: true,
      choices: Array.from({ length: 40 }, (_, c) => ({ value: `${c}`, text: `${c}`, quiz: meaning() })),
    }),
  )
  const rounds = [1, 2, 3].map(seed => timed(() => balanceOf(big, questions, dice(seed))))
  const [first] = rounds
  const off = Math.max(
    ...rounds.slice(1).map(r =>
      apart(
        r.made.results.map(x => x.share),
        first!.made.results.map(x => x.share),
      ),
    ),
  )
  console.log(
    `BALANCE   40 questions of 40 answers, sampled: ${median(rounds.map(r => r.ms)).toFixed(0)} ms (aim: 3000 ms), error of ${(100 * first!.made.error).toFixed(2)}% stated (aim: under 1%; ${first!.made.looked} ways: ${(100 * errorOf(first!.made.looked!)).toFixed(2)}%), two drawings ${(100 * off).toFixed(2)}% apart at most`,
  )
}
