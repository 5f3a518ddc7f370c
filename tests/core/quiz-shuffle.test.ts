import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { namelessAnswers } from '#core/capture/nameless'
import { blankDefinition, blankQuestion, pagesOf, publicPoint, type PointDefinition } from '#core/points/definition'
import { inOwnOrder } from '#core/quiz/shuffle'
import { askedOn, inOrder } from '#core/quiz/way'
import { holds } from '#core/conditions/condition'
import { inQuiz, quizOf, quizzes, result } from '../support/quizzes'

const seeds = fc.integer({ min: 1, max: 2 ** 31 - 1 })
const shown = (d: PointDefinition) => publicPoint('k', 1, d)
const definition = ({ quiz, questions }: Pick<PointDefinition, 'questions' | 'quiz'>): PointDefinition => ({
  ...blankDefinition('Q'),
  quiz,
  questions,
})

describe('an order of one’s own', () => {
  it('is the same for the same seed, loses and doubles nothing, and keeps the parts as long as they are', () => {
    fc.assert(
      fc.property(quizzes(6), seeds, fc.constantFrom('questions', 'choices', 'both'), fc.boolean(), (q, seed, shuffle, single) => {
        const point = shown(definition({ ...q, quiz: { ...q.quiz, shuffle: shuffle as 'both', single } }))
        const own = inOwnOrder(point, seed)
        expect(inOwnOrder(point, seed)).toEqual(own)
        const keys = (p: typeof point) => p.questions.map(o => o.key).sort()
        expect(keys(own)).toEqual(keys(point))
        expect(pagesOf(own.questions).map(p => p.length)).toEqual(pagesOf(point.questions).map(p => p.length))
        for (const o of own.questions)
          expect(o.choices?.map(c => c.value).sort()).toEqual(
            point.questions
              .find(x => x.key === o.key)!
              .choices?.map(c => c.value)
              .sort(),
          )
      }),
    )
  })
  it('asks everybody the same questions as the order of the editor does', () => {
    fc.assert(
      fc.property(quizzes(6), seeds, fc.array(fc.constantFrom('0', '1', '2'), { minLength: 6, maxLength: 6 }), (q, seed, says) => {
        const d = definition({ ...q, quiz: { ...q.quiz, shuffle: 'both' } })
        const answers = Object.fromEntries(d.questions.map((o, i) => [o.key, says[i % says.length]!]))
        const asked = (questions: { key: string }[]) => new Set(questions.map(o => o.key))
        expect(asked(askedOn(inOwnOrder(shown(d), seed).questions, answers, holds))).toEqual(
          asked(askedOn(inOrder(d.questions, d.quiz), answers, holds)),
        )
      }),
    )
  })
  it('gives each place to each question about as often', () => {
    const questions = ['a', 'b', 'c', 'd'].map(key => blankQuestion({ key, kind: 'yes_no', label: key, quiz: inQuiz() }))
    const point = shown(definition({ questions, quiz: quizOf('outcomes', [result('x'), result('y')], { shuffle: 'questions' }) }))
    const first = new Map<string, number>()
    for (let seed = 1; seed <= 4000; seed++) {
      const { key } = inOwnOrder(point, seed).questions[0]!
      first.set(key, (first.get(key) ?? 0) + 1)
    }
    // Five standard deviations of a binomial of 4000 and a quarter.
    for (const n of ['a', 'b', 'c', 'd'].map(k => first.get(k) ?? 0))
      expect(Math.abs(n - 1000)).toBeLessThan(5 * Math.sqrt(4000 * 0.25 * 0.75))
  })
})

describe('what is kept of somebody nameless', () => {
  it('is nothing they could have written themselves into, whatever they were asked', () => {
    const kinds = [
      'one_of',
      'some_of',
      'yes_no',
      'number',
      'short_text',
      'long_text',
      'email',
      'phone',
      'url',
      'date',
      'country',
      'money',
      'consent',
      'file',
    ] as const
    const questions = kinds.map(kind => blankQuestion({ key: kind, kind, quiz: inQuiz() }))
    const answers = Object.fromEntries(kinds.map(kind => [kind, 'said']))
    expect(Object.keys(namelessAnswers(questions, answers))).toEqual(['one_of', 'some_of', 'yes_no', 'number'])
    const contact = blankQuestion({ key: 'who', kind: 'one_of', quiz: inQuiz({ contact: true }) })
    const unseen = blankQuestion({ key: 'from', kind: 'number', quiz: inQuiz(), hidden: { from: 'page', parameter: 'id', value: '' } })
    expect(namelessAnswers([contact, unseen], { who: 'x', from: '7' })).toEqual({})
  })
})
