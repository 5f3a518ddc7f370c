import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { AnswerChange } from '#core/events/kinds/corrected'
import type { Answers, Question } from '#core/points/definition'
import { summed } from '#core/figures/deltas'
import { bandOf, durationBand, medianOf } from '#core/results/bands'
import { answersBefore, countedAs, deltasOfCorrection, deltasOfEntry, type CountedEntry } from '#core/results/counts'
import { questionsAsked, resultsOf } from '#core/results/results'

const q = (key: string, kind: Question['kind'], choices: string[] = []) =>
  ({ key, kind, label: key.toUpperCase(), choices: choices.map(value => ({ value, text: `${value}!` })) }) as unknown as Question
const QUESTIONS = [
  q('size', 'one_of', ['small', 'large']),
  q('crops', 'some_of', ['kale', 'leek']),
  q('area', 'number'),
  q('words', 'long_text'),
]
const entry = (answers: Answers, more: Partial<CountedEntry> = {}): CountedEntry => ({
  point: 'p',
  landing: null,
  edition: 2,
  day: '2027-03-01',
  page: 'https://s.example/a',
  counted: true,
  judged: null,
  tookMs: 4000,
  answers,
  ...more,
})

describe('bands of numbers', () => {
  it('hold their number, follow each other without a gap, and are few', () => {
    const number = fc.oneof(fc.integer({ min: -1_000_000, max: 1_000_000 }), fc.double({ min: -1e6, max: 1e6, noNaN: true }))
    fc.assert(
      fc.property(number, n => {
        const { from, to } = bandOf(n)
        expect(n < 0 ? n > from || n === from || from === -1 : n >= from).toBe(true)
        expect(n < 0 ? n <= to : n < to).toBe(true)
        expect(from).toBeLessThan(to)
        if (n >= 0) expect(bandOf(to).from).toBe(to)
      }),
    )
    expect([0, 0.4, 1, 1.9, 2, 7, 10, 499, 1000, -7].map(n => bandOf(n).from)).toEqual([0, 0, 1, 1, 2, 5, 10, 200, 1000, -10])
  })
  it('of durations give a median within 9 %', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 500, max: 600_000 }), { minLength: 1, maxLength: 60 }), times => {
        const counts = new Map<number, number>()
        for (const t of times) counts.set(durationBand(t), (counts.get(durationBand(t)) ?? 0) + 1)
        const middle = [...times].sort((a, b) => a - b)[Math.ceil(times.length / 2) - 1]!
        expect(Math.abs(medianOf(counts)! / middle - 1)).toBeLessThan(0.0906)
      }),
    )
    expect(medianOf(new Map())).toBeNull()
  })
})

describe('an entry', () => {
  it('is counted by what it says: choices one by one, numbers by band, words only as given', () => {
    expect(countedAs(QUESTIONS[1]!, ['kale', 'leek', 'kale'])).toEqual(['', 'kale', 'leek'])
    expect(countedAs(QUESTIONS[2]!, '1,250 ')).toEqual(['', '1000'])
    expect(countedAs(q('sum', 'money'), '€ 4 500')).toEqual(['', '2000'])
    expect(countedAs(q('land', 'country'), 'fr')).toEqual(['', 'FR'])
    expect([countedAs(QUESTIONS[3]!, 'anything'), countedAs(QUESTIONS[3]!, '  '), countedAs(QUESTIONS[1]!, [])]).toEqual([[''], [], []])
  })
  it('through a landing page counts for that, too', () => {
    const deltas = deltasOfEntry(entry({ size: 'small' }, { landing: 'l' }), QUESTIONS)
    expect(deltas.filter(d => d.point === 'l')).toEqual([
      { point: 'l', figure: 'sent', day: '2027-03-01', edition: 0, key: ['https://s.example/a', 'yes'], n: 1 },
    ])
    expect(deltas.filter(d => d.point === 'p').map(d => [d.figure, d.key])).toEqual([
      ['sent', ['https://s.example/a', 'yes']],
      ['took', ['47']],
      ['answer', ['size', '']],
      ['answer', ['size', 'small']],
    ])
  })
  it('that is corrected counts as what it says now, however often and in whichever order both are counted', () => {
    const answer = fc.record(
      {
        size: fc.constantFrom('small', 'large'),
        crops: fc.subarray(['kale', 'leek'], { minLength: 1 }),
        area: fc.constantFrom('3', '30', '300'),
      },
      { requiredKeys: [] },
    )
    fc.assert(
      fc.property(fc.array(answer, { minLength: 1, maxLength: 5 }), states => {
        const said = states as Answers[]
        const changes = said.slice(1).map((now, i): AnswerChange[] =>
          ['size', 'crops', 'area'].flatMap(key => {
            const [was, is] = [said[i]![key], now[key]]
            return JSON.stringify(was) === JSON.stringify(is)
              ? []
              : [{ question: key, from: '', to: '', key, ...(was !== undefined && { was }), ...(is !== undefined && { now: is }) }]
          }),
        )
        const last = said.at(-1)!
        expect(answersBefore(last, changes)).toEqual(said[0])
        const counted = summed([
          ...changes.flatMap(c => deltasOfCorrection(entry(last), QUESTIONS, c)),
          ...deltasOfEntry(entry(said[0]!), QUESTIONS),
        ])
        const sorted = (rows: object[]) => rows.map(r => JSON.stringify(Object.entries(r).sort())).sort()
        expect(sorted(counted)).toEqual(sorted(summed(deltasOfEntry(entry(last), QUESTIONS))))
      }),
    )
  })
})

describe('results', () => {
  const sums = { sent: [], looks: [], others: [], stops: [] }
  it('put looks and entries of the same page, day and edition together, with rates that claim no more than all', () => {
    const none = { day: null, edition: null, page: null }
    const of = (n: number, counted: string, figure: 'sent' | 'nameless' = 'sent') => [
      { ...none, figure, day: '2027-03-02', counted, n },
      { ...none, figure, edition: 2, counted, n },
      { ...none, figure, page: '/a', counted, n },
    ]
    const looks = [
      { ...none, day: '2027-03-02', seen: 40, begun: 20 },
      { ...none, edition: 1, seen: 30, begun: 15 },
      { ...none, edition: 2, seen: 10, begun: 5 },
      { ...none, page: '/a', seen: 30, begun: 20 },
      { ...none, page: '/b', seen: 10, begun: 0 },
    ]
    const r = resultsOf({ ...sums, sent: [...of(8, 'yes'), ...of(4, 'yes', 'nameless'), ...of(3, '')], looks }, QUESTIONS, [
      '2027-03-01',
      '2027-03-02',
    ])
    expect(r.all).toEqual({ seen: 40, begun: 20, sent: 11, nameless: 4, counted: 12 })
    expect(r.days.map(d => [d.day, d.seen, d.sent])).toEqual([
      ['2027-03-01', 0, 0],
      ['2027-03-02', 40, 11],
    ])
    expect(r.pages.map(p => [p.page, p.seen, p.sent])).toEqual([
      ['/a', 30, 11],
      ['/b', 10, 0],
    ])
    expect(r.editions.map(e => [e.edition, e.rate.rate])).toEqual([
      [2, 1],
      [1, 0],
    ])
  })
  it('name what was answered as the latest edition does, with what it offers and nobody chose, and what only an earlier one asked behind', () => {
    const asked = questionsAsked([
      { questions: [q('size', 'one_of', ['tiny', 'small']), q('gone', 'yes_no')] },
      { questions: [q('area', 'number'), q('size', 'one_of', ['small', 'large'])] },
    ])
    expect(asked.map(o => o.key)).toEqual(['area', 'size', 'gone'])
    const others = [
      ['size', '', 5],
      ['size', 'tiny', 4],
      ['size', 'small', 1],
      ['area', '', 3],
      ['area', '100', 1],
      ['area', '20', 2],
      ['area', '-10', 1],
      ['gone', '', 1],
      ['gone', 'yes', 1],
    ].map(([key, value, n]) => ({ figure: 'answer', key: [key, value] as string[], n: n as number }))
    const { answers } = resultsOf({ ...sums, others }, asked, [])
    expect(answers.map(a => [a.question, a.answered, a.rows.map(r => `${r.text}: ${r.n}`)])).toEqual([
      ['area', 3, ['-10 to under -5: 1', '20 to under 50: 2', '100 to under 200: 1']],
      ['size', 5, ['tiny!: 4', 'small!: 1', 'large!: 0']],
      ['gone', 1, ['Yes: 1']],
    ])
  })
})
