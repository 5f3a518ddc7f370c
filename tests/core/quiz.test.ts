import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holds } from '#core/conditions/condition'
import { blankQuestion, type Question } from '#core/points/definition'
import { addedWays } from '#core/quiz/answers'
import { balanceOf } from '#core/quiz/balance'
import { chosenShares } from '#core/quiz/chosen'
import { earnedBy, judgedBy, judgeQuiz } from '#core/quiz/judge'
import { wonByStates, type Way } from '#core/quiz/product'
import { SumsTable } from '#core/quiz/sums-table'
import { wonByWalking } from '#core/quiz/walk'
import { askedOn, inOrder } from '#core/quiz/way'
import { createDice } from '../../demo/dice'
import { inQuiz, meaning, oneOf, quizOf, quizzes, result, walked } from '../support/quizzes'

const dice = (seed: number) => createDice(seed).next
const three = [result('o0'), result('o1'), result('o2')]

describe('what a quiz makes of answers', () => {
  it('adds up what speaks for each outcome; ties go to the one that stands first', () => {
    const quiz = quizOf('outcomes', three)
    const questions = [
      oneOf('a', [
        [1, 0, 2],
        [0, 2, 0],
      ]),
      oneOf('b', [
        [1, 0, 0],
        [0, 0, 3],
      ]),
    ]
    expect(judgeQuiz(quiz, questions, { a: '0', b: '0' })).toMatchObject({ result: 'o0', isTie: true, sums: { o0: 2, o1: 0, o2: 2 } })
    expect(judgeQuiz(quiz, questions, { a: '1', b: '1' })).toMatchObject({ result: 'o2', isTie: false })
  })
  it('counts a part for each right tick, less one for each wrong, and never under nothing', () => {
    const q = blankQuestion({
      key: 'q',
      kind: 'some_of',
      choices: ['a', 'b', 'c', 'd'].map(value => ({ value, text: value, quiz: meaning({ right: value < 'd' }) })),
      quiz: inQuiz({ points: 2 }),
    })
    const earned = (answer: string[] | undefined, partial = true) => earnedBy(q, answer, partial)
    expect([
      earned(['a']),
      earned(['a', 'b']),
      earned(['a', 'b', 'c']),
      earned(['a', 'd']),
      earned(['d']),
      earned(undefined),
      earned([]),
    ]).toEqual([67, 133, 200, 0, 0, 0, 0])
    expect([earned(['a', 'b'], false), earned(['a', 'b', 'c'], false), earned(['a', 'b', 'c', 'd'], false)]).toEqual([0, 200, 0])
  })
  it('takes numbers by their bands, and texts for none', () => {
    const quiz = quizOf('outcomes', three)
    const n = blankQuestion({
      key: 'n',
      kind: 'number',
      quiz: inQuiz({
        bands: [
          { key: 'small', upTo: 10, quiz: meaning({ weights: [{ to: 'o1', n: 1 }] }) },
          { key: 'large', upTo: null, quiz: meaning({ weights: [{ to: 'o2', n: 1 }] }) },
        ],
      }),
    })
    expect(['10', '10,5', '-3', 'x'].map(v => judgeQuiz(quiz, [n], { n: v }).result)).toEqual(['o1', 'o2', 'o1', 'o0'])
  })
  it('says which share was reached of what was asked, by topic, too', () => {
    const quiz = quizOf('marks', [result('low', 0), result('high', 50)], { topics: [{ key: 'light', name: 'Light' }] })
    const questions = [
      oneOf('a', [[], []], { quiz: inQuiz({ points: 2, topic: 'light' }) }),
      oneOf('b', [[], []], { quiz: inQuiz({ points: 2 }), shownIf: { attribute: 'answer.a', is: 'equal', value: '1' } }),
    ]
    expect(judgeQuiz(quiz, questions, { a: '0', b: '0' })).toMatchObject({
      result: 'high',
      earned: 200,
      possible: 200,
      topics: [{ key: 'light', earned: 200, possible: 200 }],
    })
    expect(judgeQuiz(quiz, questions, { a: '1', b: '1' })).toMatchObject({ result: 'low', earned: 0, possible: 400 })
    expect(judgeQuiz(quiz, questions, { a: '1', b: '0' })).toMatchObject({ result: 'high', earned: 200, possible: 400 })
  })
  it('does not count what was not asked on this way, nor weights for outcomes that are gone', () => {
    const quiz = quizOf('outcomes', three)
    const then = (to: string) => inQuiz({ then: [{ when: { attribute: 'answer.a', is: 'equal', value: '0' }, to }] })
    const questions = [
      oneOf(
        'a',
        [
          [0, 1],
          [0, 0, 0, 5],
        ],
        { quiz: then('c') },
      ),
      oneOf('b', [[0, 0, 9]]),
      oneOf('c', [[0, 0, 0]]),
    ]
    expect(judgeQuiz(quiz, questions, { a: '0', b: '0', c: '0' }).result).toBe('o1')
    expect(judgeQuiz(quiz, questions, { a: '1', b: '0', c: '0' })).toMatchObject({ result: 'o2', sums: { o0: 0, o1: 0, o2: 9 } })
    expect(judgeQuiz(quiz, questions, { constructor: '0', __proto__: ['1'] } as never).result).toBe('o0')
  })
})

describe('a quiz that has no results yet', () => {
  it('makes nothing of answers', () => {
    const questions = [oneOf('a', [[1]])]
    expect(judgedBy({ quiz: quizOf('outcomes', []), questions }, { a: '0' })).toBeNull()
    expect(judgedBy({ quiz: quizOf('marks', []), questions }, { a: '0' })).toBeNull()
    expect(judgedBy({ quiz: null, questions }, { a: '0' })).toBeNull()
  })
})

describe('the way through a quiz', () => {
  const keys = (questions: Question[], answers = {}) => askedOn(questions, answers, holds).map(q => q.key)
  it('has the questions for who it is together, first or last, and no branch passes them over', () => {
    const end = inQuiz({ then: [{ when: null, to: '' }] })
    const questions = [
      oneOf('a', [[1]], { quiz: end }),
      blankQuestion({ key: 'email', kind: 'email', quiz: inQuiz({ contact: true }) }),
      oneOf('b', [[1]]),
    ]
    expect(keys(inOrder(questions, quizOf('outcomes', three)))).toEqual(['a', 'email'])
    expect(keys(inOrder(questions, quizOf('outcomes', three, { contact: 'start' })))).toEqual(['email', 'a'])
  })
})

/** Balance and walking say the same. */
const sameAs = (found: ReturnType<typeof balanceOf>, all: ReturnType<typeof walked>, digits: number) => {
  for (const r of found.results) {
    expect(r.share).toBeCloseTo(all.won.get(r.key)!, digits)
    expect(r.tied).toBeCloseTo(all.tied.get(r.key)!, digits)
    if (digits > 5) expect(r.never).toBe(all.won.get(r.key)! < 1e-12)
  }
}

describe('the balance of a quiz', () => {
  it('is what walking each way comes to: kinds, branches, ties, weights of a thousand million', () => {
    fc.assert(
      fc.property(quizzes(5), fc.integer(), (q, seed) => {
        const found = balanceOf(q.quiz, q.questions, dice(seed), { looks: 50 })
        const all = walked(q)
        expect(found.how).toBe('exact')
        sameAs(found, all, 9)
        for (const { key, asked } of found.questions) expect(asked).toBeCloseTo(all.asked.get(key)!, 9)
        expect(found.results.reduce((sum, r) => sum + r.share, 0)).toBeCloseTo(1, 9)
      }),
      { numRuns: 150 },
    )
  }, 60_000)
  it('by states and by walking, of more questions and unlike odds', () => {
    const ways = fc.array(
      fc.array(
        fc.record({ adds: fc.array(fc.integer({ min: -3, max: 3 }), { minLength: 5, maxLength: 5 }), p: fc.integer({ min: 1, max: 5 }) }),
        { minLength: 1, maxLength: 4 },
      ),
      { maxLength: 6 },
    )
    const shared = (q: Way[]) => q.map(w => ({ ...w, p: w.p / q.reduce((sum, o) => sum + o.p, 0) }))
    fc.assert(
      fc.property(ways, fc.array(fc.integer({ min: -4, max: 4 }), { minLength: 5, maxLength: 5 }), (questions, sums) => {
        const starts = [
          { sums, mass: 0.25 },
          { sums: [...sums].reverse(), mass: 0.75 },
        ]
        const asked = questions.map(shared)
        const [a, b] = [wonByStates(starts, asked, 5)!, wonByWalking(starts, asked, 5)]
        for (let i = 0; i < 5; i++) {
          expect(a.won[i]).toBeCloseTo(b.won[i]!, 12)
          expect(a.tied[i]).toBeCloseTo(b.tied[i]!, 12)
          expect(a.reached[i]).toBe(b.reached[i])
        }
      }),
      { numRuns: 300 },
    )
  })
  it('is sampled where it cannot be worked out, and is right within the error that it states', () => {
    // Forty ticks, of which sums of a thousand million make as many states.
    const d = dice(7)
    const big = blankQuestion({
      key: 'big',
      kind: 'some_of',
      required: true,
      choices: Array.from({ length: 40 }, (_, i) => ({
        value: `${i}`,
        text: `${i}`,
        quiz: meaning({ weights: [{ to: `o${i % 3}`, n: Math.floor(d() * 1e9) }] }),
      })),
      quiz: inQuiz(),
    })
    const quiz = quizOf('outcomes', three)
    const [one, other] = [balanceOf(quiz, [big], dice(1)), balanceOf(quiz, [big], dice(2))]
    expect([one.how, one.error < 0.01, one.looked! >= 30_000]).toEqual(['sampled', true, true])
    one.results.forEach((r, i) => expect(Math.abs(r.share - other.results[i]!.share)).toBeLessThan(one.error + other.error))
  })
  it('sampling agrees with what is exact, within its error', () => {
    fc.assert(
      fc.property(quizzes(4), fc.integer(), (q, seed) => {
        const all = walked(q)
        // What hangs on more answers than are looked at is sampled; so the same quiz is, with one more question that branches endlessly.
        const many = blankQuestion({
          key: 'many',
          kind: 'some_of',
          required: false,
          choices: Array.from({ length: 20 }, (_, i) => ({ value: `m${i}`, text: 'x' })),
          quiz: inQuiz(),
        })
        const last = blankQuestion({
          key: 'last',
          kind: 'yes_no',
          shownIf: { attribute: 'answer.many', is: 'contains', value: 'm1' },
          quiz: inQuiz(),
        })
        const found = balanceOf(q.quiz, [...q.questions, many, last], dice(seed))
        expect(found.how).toBe('sampled')
        for (const r of found.results) expect(Math.abs(r.share - all.won.get(r.key)!)).toBeLessThan(found.error * 1.5)
      }),
      { numRuns: 5 },
    )
  }, 60_000)
  it('says which question decides most, which nothing hangs on, and which nobody is asked', () => {
    const quiz = quizOf('outcomes', three)
    const never = { attribute: 'answer.idle', is: 'equal' as const, value: 'gone' }
    const found = balanceOf(
      quiz,
      [
        oneOf('strong', [
          [5, 0, 0],
          [0, 5, 0],
        ]),
        oneOf('weak', [
          [1, 0, 0],
          [0, 1, 0],
        ]),
        oneOf('same', [
          [1, 1, 1],
          [2, 2, 2],
        ]),
        oneOf('idle', [[0], [0]]),
        oneOf('lost', [[9, 0, 0]], { shownIf: never }),
      ],
      dice(3),
    )
    const by = Object.fromEntries(found.questions.map(q => [q.key, q]))
    expect(by.strong!.decides).toBeGreaterThan(0.4)
    expect(by.weak!.decides).toBe(0)
    expect([by.strong!.idle, by.weak!.idle, by.same!.idle, by.idle!.idle]).toEqual([false, false, true, false])
    expect([by.lost!.asked, by.strong!.asked]).toEqual([0, 1])
    expect(found.results.map(r => r.never)).toEqual([false, false, true])
    expect(found.ways).toBe(2 * 2 * 2 * 2)
  })
  it('knows how people chose where enough of them did, and says nothing of the others', () => {
    const rows = (n: number) => [
      { value: '0', text: '0', n: n * 0.75 },
      { value: '1', text: '1', n: n * 0.25 },
    ]
    const counted = [
      { question: 'a', answered: 40, rows: rows(40) },
      { question: 'b', answered: 12, rows: rows(12) },
      { question: '@result', answered: 40, rows: rows(40) },
      { question: 'n', answered: 40, rows: rows(40) },
    ]
    const number = blankQuestion({ key: 'n', kind: 'number', quiz: inQuiz() })
    const shares = chosenShares([oneOf('a', [[1], [0, 1]]), oneOf('b', [[1], [0, 1]]), number], counted)
    expect([...shares].map(([key, s]) => [key, ...s])).toEqual([['a', ['0', 0.75], ['1', 0.25]]])
  })
  it('goes by what people really chose', () => {
    const quiz = quizOf('outcomes', three)
    const found = balanceOf(quiz, [oneOf('a', [[1], [0, 1], [0, 0, 1]])], dice(1), {
      chosen: () =>
        new Map([
          ['0', 0.7],
          ['1', 0.3],
        ]),
    })
    expect(found.results.map(r => r.share)).toEqual([0.7, expect.closeTo(0.3, 12), 0])
  })
  it('of ticks beyond what can be looked at one by one is exact where they add up to little', () => {
    const q = (n: number) =>
      blankQuestion({
        key: 'ticks',
        kind: 'some_of',
        required: false,
        choices: Array.from({ length: n }, (_, i) => ({
          value: `${i}`,
          text: `${i}`,
          quiz: meaning({ right: i < 3, weights: [{ to: `o${i % 3}`, n: 1 + (i % 2) }] }),
        })),
        quiz: inQuiz({ points: 3 }),
      })
    const quiz = quizOf('outcomes', three)
    // Twelve are walked, thirteen are added up: a thirteenth without a weight changes nothing.
    const twelve = q(12)
    const more = { ...q(12), choices: [...twelve.choices, { value: 'none', text: 'none', quiz: meaning() }] }
    const adds = (w: Way) => w.adds.join()
    const byAdds = (a: Way, b: Way) => (adds(a) < adds(b) ? -1 : 1)
    const [a, b] = [addedWays(quiz, twelve)!.sort(byAdds), addedWays(quiz, more)!.sort(byAdds)]
    expect(b.map(adds)).toEqual(a.map(adds))
    b.forEach((w, i) => expect(w.p).toBeCloseTo(a[i]!.p, 9))
    const marks = quizOf('marks', [result('o0')])
    const earned = addedWays(marks, { ...q(20), required: true })!
    expect(earned.map(w => w.adds[0]).sort((x, y) => x! - y!)).toEqual([0, 100, 200, 300])
    expect(earned.reduce((sum, w) => sum + w.p, 0)).toBeCloseTo(1, 9)
  })
})

describe('the table of sums', () => {
  it('keeps what a map keeps', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 2 ** 52 }), fc.integer({ min: 1, max: 9 }))), all => {
        const [table, map] = [new SumsTable(2), new Map<number, number>()]
        for (const [key, mass] of [...all, ...all]) {
          table.add(key, mass)
          map.set(key, (map.get(key) ?? 0) + mass)
        }
        const found = new Map<number, number>()
        table.forEach((key, mass) => found.set(key, mass))
        expect(found).toEqual(map)
        expect(table.size).toBe(map.size)
      }),
    )
  })
})
