import { holds } from '#core/conditions/condition'
import { choicesOf, type Answer, type Answers, type Question } from '#core/points/definition'
import { answerAttributes, isShown } from '#core/points/shown'
import { addsOf, answerWays, type Chosen } from '#core/quiz/answers'
import { bandFor, possibleOf } from '#core/quiz/judge'
import { nothingWon, type Won } from '#core/quiz/product'
import type { Quiz } from '#core/quiz/shapes'

export interface Sampled {
  won: Won
  /** About how many ways there are: as many as there would be if all were asked. */
  ways: number
  looked: number
  asked: number[]
  decides: number[]
}

/** So many ways give an error of 0.7% at 99.9%; fewer where a quiz is so long that they would take too long. */
const MOST_LOOKED = 60_000
const MOST_STEPS = 12_000_000

/** Draws an answer to a question; what it adds is looked up, or worked out where there are too many answers to keep. */
interface Draw {
  draw: () => { answer: Answer | undefined; adds: readonly number[] }
  ways: number
}

function drawing(quiz: Quiz, q: Question, random: () => number, chosen?: ReadonlyMap<string, number>): Draw {
  const each = answerWays(quiz, q, chosen)
  if (each) {
    const sums: number[] = []
    let sum = 0
    for (const { p } of each) sums.push((sum += p))
    return {
      ways: each.length,
      draw: () => {
        const at = random() * sum
        let low = 0
        let high = sums.length - 1
        while (low < high) {
          const middle = (low + high) >> 1
          if (sums[middle]! > at) high = middle
          else low = middle + 1
        }
        return each[low]!
      },
    }
  }
  const choices = choicesOf(q)
  const least = Math.max(q.required ? 1 : 0, Number(q.limits.least ?? 0))
  const most = Math.min(choices.length, Number(q.limits.most ?? choices.length))
  return {
    ways: 2 ** choices.length,
    draw: () => {
      for (;;) {
        const answer = choices.filter(c => random() < (chosen?.get(c.value) ?? 0.5)).map(c => c.value)
        if (answer.length >= least && answer.length <= most) return { answer, adds: addsOf(quiz, q, answer) }
        // Narrow limits would have it drawn for ever: then as many as fit, by lot.
        if (most < choices.length / 3 || least > (2 * choices.length) / 3) {
          const n = least + Math.floor(random() * (most - least + 1))
          const some = [...choices].sort(() => random() - 0.5).slice(0, n)
          const ticked = some.map(c => c.value)
          return { answer: ticked, adds: addsOf(quiz, q, ticked) }
        }
      }
    },
  }
}

/** Looks at ways drawn by lot: which result each leads to, what is asked on it, and which question's answer would change it. */
export function sampled(
  quiz: Quiz,
  questions: Question[],
  random: () => number,
  { chosen, looks = MOST_LOOKED }: { chosen?: Chosen; looks?: number } = {},
): Sampled {
  const draws = questions.map(q => drawing(quiz, q, random, chosen?.(q.key)))
  const possible = questions.map(q => (quiz.kind === 'marks' ? possibleOf(q) : 0))
  const branched = questions.some(q => q.shownIf || q.quiz?.then.length)
  const n = quiz.results.length
  const won = nothingWon(n)
  const asked = questions.map(() => 0)
  const changed = questions.map(() => 0)
  const place = new Map(quiz.results.map((r, i) => [r.key, i]))
  const width = quiz.kind === 'marks' ? 1 : n
  const sums = new Float64Array(width)

  /** Where answers lead; with `count` it counts, too. */
  function result(all: { answer: Answer | undefined; adds: readonly number[] }[], count: boolean): number {
    sums.fill(0)
    let reachable = 0
    const given: Answers = {}
    const attributes = branched ? answerAttributes(given) : null
    let to: string | null = null
    for (let i = 0; i < questions.length; i++) {
      const q = questions[i]!
      if (attributes) {
        if (to !== null && q.key !== to) continue
        to = null
        if (!isShown(q, given)) continue
      }
      const { answer, adds } = all[i]!
      if (count) asked[i]!++
      reachable += possible[i]!
      for (let j = 0; j < width; j++) sums[j]! += adds[j]!
      if (!attributes) continue
      if (answer !== undefined) given[q.key] = answer
      to = q.quiz?.then.find(b => !b.when || holds(b.when, attributes))?.to ?? null
    }
    if (quiz.kind === 'marks') return place.get(bandFor(quiz.results, sums[0]!, reachable))!
    let best = 0
    for (let j = 1; j < n; j++) if (sums[j]! > sums[best]!) best = j
    if (count && sums.some((s, j) => j !== best && s === sums[best])) won.tied[best]!++
    return best
  }

  const each = Math.max(1, questions.length)
  const looked = Math.min(looks, Math.max(30_000, Math.floor(MOST_STEPS / each)))
  /** What another answer would change takes as many looks as there are questions, each as long. */
  const compared = Math.min(looked, Math.max(500, Math.floor(MOST_STEPS / (each * each))))
  for (let s = 0; s < looked; s++) {
    const all = draws.map(d => d.draw())
    const to = result(all, true)
    won.won[to]!++
    won.reached[to] = true
    if (s >= compared) continue
    for (let i = 0; i < questions.length; i++) {
      const own = all[i]!
      all[i] = draws[i]!.draw()
      if (result(all, false) !== to) changed[i]!++
      all[i] = own
    }
  }
  const shares = (counts: number[], of: number) => counts.map(c => c / of)
  return {
    won: { ...won, won: shares(won.won, looked), tied: shares(won.tied, looked) },
    ways: draws.reduce((product, d) => product * d.ways, 1),
    looked,
    asked: shares(asked, looked),
    decides: shares(changed, compared),
  }
}
