import { holds, attributesIn } from '#core/conditions/condition'
import type { Answers, Question } from '#core/points/definition'
import { answerAttributes, isShown } from '#core/points/shown'
import { addedWays, addsOf, answerWays, type AnswerWay, type Chosen } from '#core/quiz/answers'
import { bandFor, possibleOf } from '#core/quiz/judge'
import { nothingWon, wonByStates, type Start, type Way, type Won } from '#core/quiz/product'
import { sampled } from '#core/quiz/sample'
import type { Quiz } from '#core/quiz/shapes'
import { MOST_WALKED, waysOf, wonByWalking } from '#core/quiz/walk'
import { inOrder } from '#core/quiz/way'

/** How often each result comes up over all ways of answering a quiz. */
export interface Balance {
  /** Worked out, or looked at a number of ways drawn by lot. */
  how: 'exact' | 'sampled'
  /** How many ways there are to answer all that is asked. */
  ways: number
  /** Of sampling: how many were looked at, and by how much each share may be off, at 99.9%. */
  looked: number | null
  error: number
  results: {
    key: string
    share: number
    /** The part of it that came by a tie. */
    tied: number
    /** Whether it is proven that no way leads there; of sampling only that none was seen. */
    never: boolean
  }[]
  questions: QuestionBalance[]
}

export interface QuestionBalance {
  key: string
  /** The share of ways on which it is asked. Proven to be 0 where `how` is exact. */
  asked: number
  /** How often another answer to it, by lot, changes the result. By sampling, within `decidesError`. */
  decides: number
  /** Proven: whatever is answered here, the result is the same. */
  idle: boolean
}

/** Ways that hang on answers are looked at one by one up to so many. */
const MOST_BRANCHES = 50_000
/** At 99.9%, of a share in the worst case. */
export const errorOf = (n: number): number => 3.29 * Math.sqrt(0.25 / n)

/** Where the answers that others hang on may lead: with what they add, and which of the other questions are asked then. */
interface Fork {
  start: Start
  possible: number
}

/**
 * How often each result comes up, each choice of a question being as likely as any other, or as often as it was really chosen.
 * Everything that is asked is answered; a number as if each of its bands were as likely.
 * @param random from 0 to 1, for what can only be sampled
 * @param chosen shares that people really chose; `looks`: how many ways are drawn where that is done
 */
export function balanceOf(
  quiz: Quiz,
  all: Question[],
  random: () => number,
  { chosen, looks }: { chosen?: Chosen; looks?: number } = {},
): Balance {
  const questions = inOrder(all, quiz).filter(q => !q.quiz?.contact)
  const byLot = sampled(quiz, questions, random, { chosen, looks })
  const exactly = exact(quiz, questions, chosen)
  const won = exactly?.won ?? byLot.won
  return {
    how: exactly ? 'exact' : 'sampled',
    ways: exactly?.ways ?? byLot.ways,
    looked: exactly ? null : byLot.looked,
    error: exactly ? 0 : errorOf(byLot.looked),
    results: quiz.results.map((r, i) => ({ key: r.key, share: won.won[i]!, tied: won.tied[i]!, never: !won.reached[i] })),
    questions: questions.map((q, i) => ({
      key: q.key,
      asked: exactly ? exactly.asked[i]! : byLot.asked[i]!,
      decides: byLot.decides[i]!,
      idle: isIdle(quiz, q, questions),
    })),
  }
}

/** Whether what a question is answered can change nothing: all its ways add the same, and no condition asks for it. */
function isIdle(quiz: Quiz, q: Question, questions: Question[]): boolean {
  if (namedIn(questions).has(q.key)) return false
  const ways = addedWays(quiz, q)
  return ways !== null && ways.length === 1
}

/** The questions that conditions and branches ask for. */
export function namedIn(questions: Question[]): Set<string> {
  const conditions = questions.flatMap(q => [q.shownIf, ...(q.quiz?.then.map(b => b.when) ?? [])])
  return new Set(conditions.flatMap(c => (c ? attributesIn(c).map(a => a.replace('answer.', '')) : [])))
}

/** @returns null when it cannot be worked out in reasonable time */
function exact(quiz: Quiz, questions: Question[], chosen?: Chosen): { won: Won; ways: number; asked: number[] } | null {
  const forks = forksOf(quiz, questions, chosen)
  if (!forks) return null
  const n = quiz.results.length
  const result = nothingWon(n)
  const asked = questions.map((_, i) => forks.asked[i]!)
  let ways = 0
  const free = new Map<string, Way[] | null>()
  for (const { others, starts, combinations } of forks.groups) {
    const rest: Way[][] = []
    for (const q of others) {
      if (!free.has(q.key)) free.set(q.key, addedWays(quiz, q, chosen?.(q.key)))
      const ways = free.get(q.key)!
      if (!ways) return null
      rest.push(ways)
    }
    ways += combinations * others.reduce((product, q) => product * countOf(quiz, q), 1)
    const part = quiz.kind === 'outcomes' ? outcomesOf(starts, rest, n) : bandsOf(quiz, starts, rest)
    if (!part) return null
    for (let i = 0; i < n; i++) {
      result.won[i]! += part.won[i]!
      result.tied[i]! += part.tied[i]!
      result.reached[i] ||= part.reached[i]!
    }
  }
  return { won: result, ways, asked }
}

function outcomesOf(forks: Fork[], rest: Way[][], n: number): Won | null {
  const starts = forks.map(f => f.start)
  if (n === 1) {
    const mass = starts.reduce((sum, s) => sum + s.mass, 0)
    return { won: [mass], tied: [0], reached: [starts.length > 0] }
  }
  return wonByStates(starts, rest, n) ?? (starts.length * waysOf(rest) <= MOST_WALKED ? wonByWalking(starts, rest, n) : null)
}

/** Marks are one sum; what it comes to hangs on how many were to be had. */
const MOST_SUMS = 2_000_000
function bandsOf(quiz: Quiz, forks: Fork[], rest: Way[][]): Won | null {
  const result = nothingWon(quiz.results.length)
  const place = new Map(quiz.results.map((r, i) => [r.key, i]))
  for (const possible of new Set(forks.map(f => f.possible))) {
    let sums = new Map<number, number>()
    for (const { start, possible: own } of forks)
      if (own === possible) sums.set(start.sums[0]!, (sums.get(start.sums[0]!) ?? 0) + start.mass)
    for (const ways of rest) {
      const next = new Map<number, number>()
      for (const [sum, mass] of sums) for (const { adds, p } of ways) next.set(sum + adds[0]!, (next.get(sum + adds[0]!) ?? 0) + mass * p)
      if (next.size > MOST_SUMS) return null
      sums = next
    }
    for (const [sum, mass] of sums) {
      const at = place.get(bandFor(quiz.results, sum, possible))!
      result.won[at]! += mass
      result.reached[at] = true
    }
  }
  return result
}

interface Forks {
  /** By which of the other questions are asked. */
  groups: { others: Question[]; starts: Fork[]; combinations: number }[]
  /** How likely each question is asked. */
  asked: number[]
}

/** Goes through all answers that others hang on; what hangs on nothing is left for later. @returns null when there are too many */
function forksOf(quiz: Quiz, questions: Question[], chosen?: Chosen): Forks | null {
  const named = namedIn(questions)
  const ways = new Map<string, AnswerWay[]>()
  for (const q of questions) {
    if (!named.has(q.key)) continue
    const all = answerWays(quiz, q, chosen?.(q.key))
    if (!all) return null
    ways.set(q.key, all)
  }
  const groups = new Map<string, { others: Question[]; starts: Map<string, Fork>; combinations: number }>()
  const asked = questions.map(() => 0)
  let left = MOST_BRANCHES
  const given: Answers = {}
  const attributes = answerAttributes(given)
  const nothing = addsOf(quiz, questions[0] ?? ({} as Question), undefined)

  function go(at: number, to: string | null, sums: readonly number[], possible: number, mass: number, others: number[]): void {
    if (left <= 0) return
    for (let i = at; i < questions.length; i++) {
      const q = questions[i]!
      if (to !== null && q.key !== to) continue
      to = null
      if (!isShown(q, given)) continue
      asked[i]! += mass
      const own = quiz.kind === 'marks' ? possibleOf(q) : 0
      const branches = q.quiz?.then ?? []
      const next = (before: string | null) => branches.find(b => !b.when || holds(b.when, attributes))?.to ?? before
      const each = ways.get(q.key)
      if (!each) {
        others = [...others, i]
        possible += own
        to = next(to)
        continue
      }
      for (const { answer, adds, p } of each) {
        if (answer === undefined) delete given[q.key]
        else given[q.key] = answer
        go(
          i + 1,
          next(null),
          sums.map((s, n) => s + adds[n]!),
          possible + own,
          mass * p,
          others,
        )
      }
      delete given[q.key]
      return
    }
    left--
    const name = others.join()
    if (!groups.has(name)) groups.set(name, { others: others.map(i => questions[i]!), starts: new Map(), combinations: 0 })
    const group = groups.get(name)!
    group.combinations++
    const key = `${possible} ${sums.join()}`
    const known = group.starts.get(key)
    if (known) known.start.mass += mass
    else group.starts.set(key, { start: { sums, mass }, possible })
  }
  go(0, null, nothing, 0, 1, [])
  return left > 0 ? { groups: [...groups.values()].map(g => ({ ...g, starts: [...g.starts.values()] })), asked } : null
}

/** How many ways there are to answer a question. */
function countOf(quiz: Quiz, q: Question): number {
  const each = answerWays(quiz, q)
  return each ? each.length : 2 ** q.choices.length
}
