import fc from 'fast-check'
import { holds } from '#core/conditions/condition'
import { blankQuestion, type Answers, type Question } from '#core/points/definition'
import { answerWays } from '#core/quiz/answers'
import { judgeQuiz } from '#core/quiz/judge'
import type { Branch, Meaning, Quiz } from '#core/quiz/shapes'
import { blankInQuiz, blankMeaning, blankResult, quizOf as blankRules } from '#core/quiz/starters'
import { askedOn, inOrder } from '#core/quiz/way'

export const meaning = (more: Partial<Meaning> = {}): Meaning => ({ ...blankMeaning(), ...more })
export const inQuiz = blankInQuiz
export const result = (key: string, from = 0): Quiz['results'][number] => blankResult(key, key, { from })
export const quizOf = (kind: Quiz['kind'], results: Quiz['results'], more: Partial<Quiz> = {}): Quiz => ({
  ...blankRules(kind, results),
  reason: '',
  ...more,
})
/** A question with one answer of several, each with weights by the place of the outcome. */
export const oneOf = (key: string, weights: number[][], more: Partial<Question> = {}): Question =>
  blankQuestion({
    key,
    kind: 'one_of',
    label: key,
    required: true,
    choices: weights.map((row, i) => ({
      value: `${i}`,
      text: `${i}`,
      quiz: meaning({ right: i === 0, weights: row.map((n, o) => ({ to: `o${o}`, n })).filter(w => w.n) }),
    })),
    quiz: inQuiz({ points: 1 }),
    ...more,
  })

/** Small quizzes of all sorts, whose ways can be walked. */
export const quizzes = (most = 5): fc.Arbitrary<{ quiz: Quiz; questions: Question[] }> =>
  fc
    .record({
      kind: fc.constantFrom<Quiz['kind']>('outcomes', 'marks'),
      outcomes: fc.integer({ min: 1, max: 4 }),
      partial: fc.boolean(),
      size: fc.integer({ min: 1, max: most }),
      scale: fc.constantFrom(1, 3, 1_000_000_000),
    })
    .chain(({ kind, outcomes, partial, size, scale }) => {
      const meant = fc
        .record({
          right: fc.boolean(),
          weights: fc.array(fc.integer({ min: -scale, max: scale }), { minLength: outcomes, maxLength: outcomes }),
        })
        .map(({ right, weights }) => meaning({ right, weights: weights.map((n, o) => ({ to: `o${o}`, n })) }))
      const conditionAbout = (i: number) =>
        fc
          .record({ q: fc.integer({ min: 0, max: i - 1 }), value: fc.constantFrom('0', '1', '2') })
          .map(({ q, value }) => ({ attribute: `answer.q${q}`, is: 'equal' as const, value }))
      const question = (i: number): fc.Arbitrary<Question> =>
        fc
          .record({
            sort: fc.constantFrom('one_of', 'some_of', 'number', 'yes_no'),
            meanings: fc.array(meant, { minLength: 2, maxLength: 3 }),
            points: fc.integer({ min: 0, max: 3 }),
            required: fc.boolean(),
            shownIf: i > 0 ? fc.option(conditionAbout(i), { freq: 3 }) : fc.constant(null),
            branch:
              i > 0 && i < size - 2
                ? fc.option(fc.record({ when: fc.option(conditionAbout(i)), to: fc.integer({ min: i + 1, max: size }) }), { freq: 3 })
                : fc.constant(null),
          })
          .map(({ sort, meanings, points, required, shownIf, branch }) => {
            const then: Branch[] = branch ? [{ when: branch.when, to: branch.to === size ? '' : `q${branch.to}` }] : []
            const bands =
              sort === 'number' ? meanings.map((quiz, n) => ({ key: `b${n}`, upTo: n === meanings.length - 1 ? null : n * 10, quiz })) : []
            const choices =
              sort === 'one_of' || sort === 'some_of' ? meanings.map((quiz, n) => ({ value: `${n}`, text: `${n}`, quiz })) : []
            return blankQuestion({
              key: `q${i}`,
              kind: sort as Question['kind'],
              label: `q${i}`,
              required,
              choices,
              shownIf,
              quiz: inQuiz({ points, bands, then }),
            })
          })
      const results = Array.from({ length: outcomes }, (_, o) => result(`o${o}`, Math.round((100 * o) / outcomes)))
      return fc
        .tuple(...Array.from({ length: size }, (_, i) => question(i)))
        .map(questions => ({ quiz: quizOf(kind, results, { partial }), questions }))
    })

/** Walks each way of a quiz, one by one. */
export function walked({ quiz, questions }: { quiz: Quiz; questions: Question[] }) {
  const won = new Map(quiz.results.map(r => [r.key, 0]))
  const tied = new Map(quiz.results.map(r => [r.key, 0]))
  const asked = new Map(questions.map(q => [q.key, 0]))
  const order = inOrder(questions, quiz)
  const go = (answers: Answers, mass: number): void => {
    const way = askedOn(order, answers, holds)
    const next = way.find(q => !done.has(q.key))
    if (!next) {
      const { result: key, isTie } = judgeQuiz(quiz, questions, answers)
      won.set(key, won.get(key)! + mass)
      if (isTie) tied.set(key, tied.get(key)! + mass)
      for (const q of way) asked.set(q.key, asked.get(q.key)! + mass)
      return
    }
    done.add(next.key)
    for (const { answer, p } of answerWays(quiz, next)!) go(answer === undefined ? answers : { ...answers, [next.key]: answer }, mass * p)
    done.delete(next.key)
  }
  const done = new Set<string>()
  go({}, 1)
  return { won, tied, asked }
}
