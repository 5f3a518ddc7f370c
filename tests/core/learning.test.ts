import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holds } from '#core/conditions/condition'
import { asScorecard, leadCondition } from '#core/learning/as-card'
import { singleCandidates, supportFor } from '#core/learning/candidates'
import { learnCard, LEAST_ENDS } from '#core/learning/learn'
import { scoreRows } from '#core/learning/score-rows'
import { LEARN_LIMITS, readTable, type Row } from '#core/learning/table'
import { diceOf } from '#core/quiz/shuffle'
import { gains } from '#core/stats/roc'
import { readScorecard, type Scorecard } from '#core/scoring/scorecard'

/** Rows with a known truth: a choice that counts for itself, two numbers that count together, and much that counts for nothing. */
function world(seed: number, n: number): { rows: Row[]; outcome: number[] } {
  const dice = diceOf(seed)
  for (let i = 0; i < 20; i++) dice()
  const rows: Row[] = []
  const outcome: number[] = []
  for (let i = 0; i < n; i++) {
    const row: Row = {
      kind: ['school', 'council', 'home'][Math.floor(dice() * 3)],
      size: Math.floor(dice() * 6),
      near: Math.floor(dice() * 4),
      note: dice() < 0.5 ? '' : 'x',
    }
    for (let k = 0; k < 6; k++) row[`noise_${k}`] = Math.floor(dice() * 5)
    const odds = -3.6 + (row.kind === 'school' ? 1.3 : 0) + (Number(row.size) >= 4 && Number(row.near) >= 2 ? 2.4 : 0)
    rows.push(row)
    outcome.push(Number(dice() < 1 / (1 + Math.exp(-odds))))
  }
  return { rows, outcome }
}
const top = (scores: number[], outcome: number[]) => gains(scores, outcome, [0.2])[0]!.captured

describe('learning a scorecard', () => {
  const { rows, outcome } = world(4, 2500)
  const learned = learnCard(rows, outcome, { maxRules: 8, seed: 5 })
  it('finds what counts, alone and together, and says it in few rules of whole points', () => {
    expect(learned.rules.length).toBeLessThanOrEqual(8)
    for (const r of learned.rules) expect(Number.isInteger(r.points) && r.points !== 0).toBe(true)
    const asks = JSON.stringify(learned.rules.filter(r => r.points > 0).map(r => r.when))
    expect(asks).toContain('school')
    const pairs = learned.rules.filter(r => 'all' in r.when && r.points > 0).map(r => JSON.stringify(r.when))
    expect(pairs.some(p => p.includes('"size"') && p.includes('"near"'))).toBe(true)
    // On others, of whom it knew nothing, it finds nearly as many as the truth itself.
    const other = world(77, 8000)
    const truth = other.rows.map(r => (r.kind === 'school' ? 1.3 : 0) + (Number(r.size) >= 4 && Number(r.near) >= 2 ? 2.4 : 0))
    expect(top(scoreRows(learned.rules, other.rows), other.outcome)).toBeGreaterThan(top(truth, other.outcome) - 0.06)
    const [low, high] = learned.crossValidated.aucRange
    expect(low).toBeLessThan(learned.crossValidated.auc)
    expect(high).toBeGreaterThan(learned.crossValidated.auc)
  }, 60_000)
  it('gives the same card for the same seed, whatever the order of the columns', () => {
    const turned = rows.map(row => Object.fromEntries(Object.entries(row).reverse()))
    expect(learnCard(turned, outcome, { maxRules: 8, seed: 5 })).toEqual(learned)
  }, 60_000)
  it('claims nothing where there is nothing', () => {
    const dice = diceOf(9)
    const { crossValidated } = learnCard(
      world(4, 900).rows,
      Array.from({ length: 900 }, () => Number(dice() < 0.1)),
      { maxRules: 6 },
    )
    expect(crossValidated.aucRange[0]).toBeLessThan(0.55)
    expect(crossValidated.auc).toBeLessThan(0.62)
  }, 60_000)
  it.each<[string, () => unknown, RegExp]>([
    ['three rows', () => learnCard([{ a: 1 }, { a: 2 }, { a: 3 }], [0, 1, 0]), new RegExp(`1 of 3 .* ${LEAST_ENDS}`)],
    [
      'one kind only',
      () =>
        learnCard(
          rows,
          rows.map(() => 1),
        ),
      /2500 of 2500/,
    ],
    ['another number of outcomes', () => learnCard(rows, [1, 0]), /2500 rows and 2 outcomes/],
    [
      'an outcome that is none',
      () =>
        learnCard(
          rows,
          outcome.map((o, i) => (i === 7 ? 0.5 : o)),
        ),
      /row 8/,
    ],
    [
      'columns that are all the same',
      () =>
        learnCard(
          rows.map(() => ({ a: 1 })),
          outcome,
        ),
      /No column/,
    ],
    ['too many rows', () => readTable(Array.from({ length: LEARN_LIMITS.rows + 1 }, () => ({}))), /more than can be learned from/],
    ['too many columns', () => readTable([Object.fromEntries(Array.from({ length: 501 }, (_, i) => [`c${i}`, i]))]), /501 columns/],
  ])('refuses %s in words', (_, learn, words) => {
    expect(learn).toThrow(words)
    expect(learn).toThrow(RangeError)
  })
})

describe('reading rows', () => {
  it('takes numbers in texts as numbers, mixed ones as choices, leaves out what tells nothing, and says so', () => {
    const dice = diceOf(2)
    const own = Array.from({ length: 120 }, (_, i) => ({
      n: String(i % 9),
      mixed: i % 3 ? i % 4 : 'many',
      same: 'x',
      id: `id-${i}-${dice()}`,
      gap: i % 2 ? i : null,
    }))
    const { columns, notes } = readTable(own)
    expect(columns.map(c => [c.name, c.kind])).toEqual([
      ['gap', 'number'],
      ['mixed', 'choice'],
      ['n', 'number'],
    ])
    expect(notes).toEqual([expect.stringContaining('“id”'), expect.stringContaining('“mixed”'), expect.stringContaining('“same”')])
  })
  it('forms candidates that hold of just the rows that their condition holds of, and of enough', () => {
    const cell = fc.oneof(
      fc.integer({ min: -3, max: 6 }),
      fc.constantFrom('a', 'b', 'Ä', '', null, '2'),
      fc.array(fc.constantFrom('x', 'y'), { maxLength: 2 }),
    )
    fc.assert(
      fc.property(fc.array(fc.record({ p: cell, q: fc.integer({ min: 0, max: 40 }) }), { minLength: 30, maxLength: 120 }), some => {
        const table = readTable(some)
        for (const c of singleCandidates(table)) {
          expect([...c.rows]).toEqual(some.flatMap((row, i) => (holds(c.when, name => (row as Row)[name]) ? [i] : [])))
          expect(c.rows.length).toBeGreaterThanOrEqual(supportFor(some.length))
        }
      }),
      { numRuns: 60 },
    )
  })
})

describe('scoring rows', () => {
  it('gives what the conditions themselves would', () => {
    const value = fc.oneof(
      fc.integer({ min: -3, max: 9 }),
      fc.constantFrom('school', 'School', 'é', '', '7', null, 2.5, true),
      fc.array(fc.constantFrom('a', 'b', 3)),
    )
    const test = fc.oneof(
      fc.record({
        attribute: fc.constantFrom('a', 'b'),
        is: fc.constantFrom('equal' as const, 'at_least' as const, 'at_most' as const, 'not_equal' as const),
        value: fc.oneof(fc.integer({ min: -3, max: 9 }), fc.constantFrom('school', 'é', 2.5)),
      }),
      fc.record({ attribute: fc.constantFrom('a', 'b'), is: fc.constantFrom('filled' as const, 'empty' as const) }),
    )
    const when = fc.oneof(test, fc.record({ all: fc.array(test, { maxLength: 3 }) }), fc.record({ none: fc.array(test, { maxLength: 2 }) }))
    fc.assert(
      fc.property(
        fc.array(fc.record({ when, points: fc.integer({ min: -9, max: 9 }) }), { maxLength: 6 }),
        fc.array(fc.record({ a: value, b: value }), { maxLength: 10 }),
        (rules, some) => {
          const plain = some.map(row => rules.reduce((n, r) => n + (holds(r.when, name => (row as Row)[name]) ? r.points : 0), 0))
          expect(scoreRows(rules, some)).toEqual(plain)
        },
      ),
    )
  })
})

describe('a learned card as a scorecard', () => {
  const live: Scorecard = {
    version: 1,
    halfLifeDays: 14,
    fit: [],
    interest: [{ key: 'entry', name: 'Entry', points: 20, on: 'entry', when: null }],
    labels: [
      { label: 'early', fit: -1000, interest: 0 },
      { label: 'ready', fit: 30, interest: 30 },
    ],
  }
  const rules = [
    { when: { attribute: 'property.sector', is: 'equal' as const, value: 'school' }, points: 6 },
    {
      when: {
        all: [
          { attribute: 'did.page', is: 'at_least' as const, value: 3 },
          { attribute: 'did.entry.form_visit', is: 'equal' as const, value: 1 },
        ],
      },
      points: -2,
    },
    { when: { attribute: 'did.visit', is: 'at_least' as const, value: 0 }, points: 1 },
  ]
  it('asks for deeds as conditions do, keeps what interest gives, and lets as many into each label as before', () => {
    const fits = Array.from({ length: 100 }, (_, i) => ({ was: i, would: (i * 7) % 100 }))
    const card = asScorecard(live, rules, fits, when => JSON.stringify(when))
    expect(readScorecard(card).flaws).toEqual([])
    expect(card.fit.map(r => r.points)).toEqual([30, -10])
    expect(card.interest).toEqual(live.interest)
    const line = card.labels[1]!.fit
    expect(fits.filter(f => f.would * 5 >= line)).toHaveLength(fits.filter(f => f.was >= 30).length)
    expect(card.labels[0]).toEqual(live.labels[0])
    expect(leadCondition(rules[1]!.when)).toEqual({
      all: [
        { did: 'page', where: null, times: 3, days: null },
        {
          all: [
            { did: 'entry', where: { attribute: 'point', is: 'equal', value: 'form_visit' }, times: 1, days: null },
            { none: [{ did: 'entry', where: { attribute: 'point', is: 'equal', value: 'form_visit' }, times: 2, days: null }] },
          ],
        },
      ],
    })
  })
})
