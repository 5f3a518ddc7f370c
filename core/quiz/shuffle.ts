import { pagesOf, type PublicPoint, type PublicQuestion } from '#core/points/definition'

/** Numbers from 0 up to, not with, 1, the same for the same seed (xorshift32; Marsaglia 2003). @param seed a whole number */
export function diceOf(seed: number): () => number {
  // Seeds that are close give orders that are not (Knuth's multiplier).
  let x = Math.imul(seed, 0x9e3779b1) || 1
  return () => {
    x ^= x << 13
    x ^= x >>> 17
    x ^= x << 5
    return (x >>> 0) / 2 ** 32
  }
}

/** The same things in another order, each order as likely as any other (Fisher and Yates). */
export function shuffled<T>(all: readonly T[], dice: () => number): T[] {
  const out = [...all]
  for (let n = out.length - 1; n > 0; n--) {
    const k = Math.floor(dice() * (n + 1))
    ;[out[n], out[k]] = [out[k]!, out[n]!]
  }
  return out
}

/**
 * A quiz in the order in which one person is asked. Only questions of which no condition and no branch speaks change their places,
 * and only with those that stand beside them; a scale keeps its order.
 * @param seed the same gives the same order
 */
export function inOwnOrder(point: PublicPoint, seed: number): PublicPoint {
  const what = point.quiz?.shuffle
  if (!what) return point
  const dice = diceOf(seed)
  const own = what === 'questions' ? point.questions : point.questions.map(q => withChoices(q, dice))
  if (what === 'choices') return { ...point, questions: own }
  // Where a part begins stays; what stands in it changes.
  const single = pagesOf(own).every(page => page.filter(q => q.moves).length < 2)
  const questions = [...own]
  for (let from = 0; from < own.length; from++) {
    let to = from
    while (own[to]?.moves && (to === from || single || !own[to]!.newPage)) to++
    if (to - from < 2) continue
    shuffled(own.slice(from, to), dice).forEach(({ newPage: _, ...q }, n) => {
      questions[from + n] = { ...q, ...(own[from + n]!.newPage && { newPage: true }) }
    })
    from = to - 1
  }
  return { ...point, questions }
}

const withChoices = (q: PublicQuestion, dice: () => number): PublicQuestion =>
  q.choices && q.as !== 'scale' && (q.kind === 'one_of' || q.kind === 'some_of') ? { ...q, choices: shuffled(q.choices, dice) } : q
