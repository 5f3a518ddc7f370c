import { choicesOf, type Answer, type Question } from '#core/points/definition'
import { mergedWays, type Way } from '#core/quiz/product'
import { earnedBy, meaningsOf } from '#core/quiz/judge'
import type { Quiz } from '#core/quiz/shapes'

/** A way to answer a question, with the answer itself. */
export interface AnswerWay extends Way {
  answer: Answer | undefined
}

/** How often each choice of a question was really chosen, by its value or the key of its band; of several, how often each was ticked. */
export type Chosen = (question: string) => ReadonlyMap<string, number> | undefined

/** The most ways of one question that are looked at one by one. */
const MOST_SUBSETS = 4096
const MOST_MERGED = 20_000

type Asked = Pick<Question, 'key' | 'kind' | 'choices' | 'quiz' | 'required' | 'limits' | 'hidden'>

/** What an answer adds to each result of outcomes, or, of marks, the hundredths that it earns. */
export function addsOf(quiz: Quiz, q: Asked, answer: Answer | undefined): number[] {
  if (quiz.kind === 'marks') return [earnedBy(q, answer, quiz.partial)]
  const adds = quiz.results.map(() => 0)
  for (const { weights } of meaningsOf(q, answer))
    for (const { to, n } of weights) {
      const at = quiz.results.findIndex(r => r.key === to)
      if (at >= 0) adds[at]! += n
    }
  return adds
}

/** A number that falls into a band: its own upper end, or one beyond the others. */
function numberIn({ bands }: NonNullable<Question['quiz']>, at: number): string {
  const { upTo } = bands[at]!
  const others = bands.flatMap(b => b.upTo ?? [])
  return String(upTo ?? (others.length ? Math.max(...others) + 1 : 0))
}

/** How many may be ticked. */
const ticksOf = ({ limits, required, choices }: Asked): [number, number] => [
  Math.max(required ? 1 : 0, Number(limits.least ?? 0)),
  Math.min(choices.length, Number(limits.most ?? choices.length)),
]

/**
 * All ways to answer a question, each choice as likely as any other, or as often as it was chosen.
 * @returns null when there are too many to look at one by one
 */
export function answerWays(quiz: Quiz, q: Asked, chosen?: ReadonlyMap<string, number>): AnswerWay[] | null {
  const way = (answer: Answer | undefined, p: number): AnswerWay => ({ answer, adds: addsOf(quiz, q, answer), p })
  if (q.hidden) return [way(q.hidden.value || undefined, 1)]
  if (q.kind === 'some_of') {
    if (2 ** q.choices.length > MOST_SUBSETS) return null
    const [least, most] = ticksOf(q)
    const all = Array.from({ length: 2 ** q.choices.length }, (_, bits) => q.choices.filter((_, i) => bits & (1 << i)))
    const fit = all.filter(s => s.length >= least && s.length <= most)
    return weighed(
      fit.map(s => ({ ways: s.map(c => c.value), odds: chosen ? subsetOdds(q, new Set(s.map(c => c.value)), chosen) : 1 })),
    ).map(({ ways, p }) => way(ways, p))
  }
  if (q.kind === 'number' && q.quiz?.bands.length) {
    const { bands } = q.quiz
    return weighed(bands.map((b, i) => ({ ways: numberIn(q.quiz!, i), odds: chosen ? (chosen.get(b.key) ?? 0) : 1 }))).map(({ ways, p }) =>
      way(ways, p),
    )
  }
  if (q.kind === 'consent') return [way('yes', 0.5), way(undefined, 0.5)]
  const choices = choicesOf(q)
  if (!choices.length) return [way('…', 1)]
  return weighed(choices.map(c => ({ ways: c.value, odds: chosen ? (chosen.get(c.value) ?? 0) : 1 }))).map(({ ways, p }) => way(ways, p))
}

/** As if each were ticked by itself as often as it was. */
const subsetOdds = (q: Asked, ticked: Set<string>, chosen: ReadonlyMap<string, number>): number =>
  q.choices.reduce((odds, c) => odds * (ticked.has(c.value) ? share(chosen, c.value) : 1 - share(chosen, c.value)), 1)
/** Nobody has chosen it, or everybody: that is not for ever. */
const share = (chosen: ReadonlyMap<string, number>, value: string) => Math.min(0.999, Math.max(0.001, chosen.get(value) ?? 0))

function weighed<T>(all: { ways: T; odds: number }[]): { ways: T; p: number }[] {
  const sum = all.reduce((n, w) => n + w.odds, 0)
  return all.map(({ ways, odds }) => ({ ways, p: sum > 0 ? odds / sum : 1 / all.length }))
}

/**
 * The ways of a question that no condition asks for, with those that add the same as one: also where there are too many subsets
 * to look at.
 * @returns null when even so there are too many
 */
export function addedWays(quiz: Quiz, q: Asked, chosen?: ReadonlyMap<string, number>): Way[] | null {
  const each = answerWays(quiz, q, chosen)
  if (each) return quiz.kind === 'outcomes' ? mergedWays(each) : sameMarks(each)
  const [least, most] = ticksOf(q)
  // By how many are ticked, of them how many rightly, and what they add.
  let states = new Map<string, { ticks: number; hits: number; adds: number[]; odds: number }>([
    ['', { ticks: 0, hits: 0, adds: quiz.results.map(() => 0), odds: 1 }],
  ])
  for (const c of q.choices) {
    const p = chosen ? share(chosen, c.value) : 0.5
    const adds = quiz.kind === 'outcomes' ? addsOf(quiz, q, [c.value]) : []
    const next: typeof states = new Map()
    for (const s of states.values())
      for (const on of [true, false]) {
        const now = {
          ticks: s.ticks + Number(on),
          hits: s.hits + Number(on && c.quiz?.right === true),
          adds: on && adds.length ? s.adds.map((a, i) => a + adds[i]!) : s.adds,
          odds: s.odds * (on ? p : 1 - p),
        }
        const key = `${now.ticks} ${now.hits} ${now.adds.join()}`
        const known = next.get(key)
        if (known) known.odds += now.odds
        else next.set(key, now)
      }
    if (next.size > MOST_MERGED) return null
    states = next
  }
  const fit = [...states.values()].filter(s => s.ticks >= least && s.ticks <= most)
  const ways = weighed(fit.map(s => ({ ways: s, odds: s.odds }))).map(({ ways, p }) => ({
    adds: quiz.kind === 'outcomes' ? ways.adds : [marksFor(quiz, q, ways)],
    p,
  }))
  return quiz.kind === 'outcomes' ? mergedWays(ways) : sameMarks(ways)
}

/** Marks for so many ticks, so many of them right, by those of an answer that has as many. */
function marksFor(quiz: Quiz, q: Asked, { ticks, hits }: { ticks: number; hits: number }): number {
  const right = q.choices.filter(c => c.quiz?.right)
  const wrong = q.choices.filter(c => !c.quiz?.right)
  return earnedBy(
    q,
    [...right.slice(0, hits), ...wrong.slice(0, ticks - hits)].map(c => c.value),
    quiz.partial,
  )
}

function sameMarks(ways: Way[]): Way[] {
  const same = new Map<number, number>()
  for (const { adds, p } of ways) same.set(adds[0]!, (same.get(adds[0]!) ?? 0) + p)
  return [...same].map(([earned, p]) => ({ adds: [earned], p }))
}
