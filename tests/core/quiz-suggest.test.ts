import fc from 'fast-check'
import load from 'highs'
import { beforeAll, describe, expect, it } from 'vitest'
import type { Question } from '#core/points/definition'
import { judgeQuiz } from '#core/quiz/judge'
import { solverOf } from '#core/quiz/solver'
import { suggestWeights, type Solver, type Suggested, type Wish } from '#core/quiz/suggest'
import { oneOf, quizOf, result } from '../support/quizzes'

let solve: Solver
beforeAll(async () => {
  solve = solverOf(await load())
})
const quiz = quizOf('outcomes', [result('o0'), result('o1'), result('o2')])
const questions = (n: number, weights: number[][] = [[], [], []]) => Array.from({ length: n }, (_, i) => oneOf(`q${i}`, weights))
/** Questions with suggested weights in them. */
const taken = (all: Question[], cells: Suggested[]): Question[] =>
  all.map(q => ({
    ...q,
    choices: q.choices.map(c => {
      const own = cells.filter(s => s.question === q.key && s.choice === c.value)
      const kept = c.quiz!.weights.filter(w => !own.some(s => s.outcome === w.to))
      return { ...c, quiz: { ...c.quiz!, weights: [...kept, ...own.map(s => ({ to: s.outcome, n: s.now }))] } }
    }),
  }))

describe('suggested weights', () => {
  it('give everybody what was wished, with the margin that is said, in small whole numbers, or say which wishes contradict each other', () => {
    const wish = (n: number): fc.Arbitrary<Wish> =>
      fc.record({
        answers: fc
          .tuple(...Array.from({ length: n }, () => fc.constantFrom('0', '1', '2')))
          .map(all => Object.fromEntries(all.map((v, i) => [`q${i}`, v]))),
        outcome: fc.constantFrom('o0', 'o1', 'o2'),
      })
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 4 }).chain(n => fc.tuple(fc.constant(n), fc.array(wish(n), { minLength: 1, maxLength: 6 }))),
        ([n, wishes]) => {
          const all = questions(n)
          const found = suggestWeights(quiz, all, wishes, solve)
          if (found.kind === 'contradict') {
            expect(found.wishes.length).toBeGreaterThan(1)
            // With any one of them less, the others can be fulfilled.
            for (const out of found.wishes) {
              const rest = found.wishes.filter(i => i !== out).map(i => wishes[i]!)
              expect(suggestWeights(quiz, all, rest, solve).kind).not.toBe('contradict')
            }
            return
          }
          if (found.kind === 'too small') return
          expect(found.cells.every(c => Number.isInteger(c.now) && c.now >= 0 && c.now <= 9)).toBe(true)
          for (const { answers, outcome } of wishes) {
            const { result, sums } = judgeQuiz(quiz, taken(all, found.cells), answers)
            expect(result).toBe(outcome)
            for (const [key, sum] of Object.entries(sums))
              if (key !== outcome) expect(sums[outcome]! - sum).toBeGreaterThanOrEqual(found.margin)
          }
        },
      ),
      { numRuns: 60 },
    )
  }, 120_000)
  it('contradict each other where two answer alike and should get different outcomes', () => {
    const wishes = [
      { answers: { q0: '2' }, outcome: 'o2' },
      { answers: { q0: '0' }, outcome: 'o0' },
      { answers: { q0: '0' }, outcome: 'o1' },
    ]
    expect(suggestWeights(quiz, questions(1), wishes, solve)).toEqual({ kind: 'contradict', wishes: [1, 2] })
  })
  it('leave alone what does already, and what nobody described has chosen', () => {
    const all = questions(2, [
      [3, 0, 0],
      [0, 3, 0],
      [0, 0, 3],
    ])
    const found = suggestWeights(quiz, all, [{ answers: { q0: '0', q1: '0' }, outcome: 'o0' }], solve)
    expect(found).toMatchObject({ kind: 'weights', margin: 6, changed: [] })
    const other = suggestWeights(quiz, all, [{ answers: { q0: '0', q1: '1' }, outcome: 'o2' }], solve)
    expect(other.kind === 'weights' && other.changed.every(c => (c.question === 'q0' ? c.choice === '0' : c.choice === '1'))).toBe(true)
  })
  it('cannot be where nothing was answered that scores', () => {
    expect(suggestWeights(quiz, questions(1), [{ answers: {}, outcome: 'o1' }], solve)).toEqual({ kind: 'contradict', wishes: [0] })
  })
})
