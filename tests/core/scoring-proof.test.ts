import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { proofOf, type Case } from '#core/scoring/proof'

const DAY = 86_400_000
const NOW = 400 * DAY
const one = (more: Partial<Case>): Case => ({
  createdAt: 0,
  judgedAt: 7 * DAY,
  score: 10,
  label: 'early',
  rules: [],
  reachedAt: null,
  ...more,
})
const many = (n: number, of: (i: number) => Partial<Case>) => Array.from({ length: n }, (_, i) => one(of(i)))
const rules = (points: number) => [{ rule: 'r', name: 'R', axis: 'fit' as const, points }]

describe('the proof of a scorecard', () => {
  it('counts everybody once: told, too young, or there before they were scored', () => {
    const cases = fc.array(
      fc.record({
        createdAt: fc.integer({ min: 0, max: 400 * DAY }),
        score: fc.integer({ min: -30, max: 150 }),
        label: fc.constantFrom(null, 'early', 'ready'),
        took: fc.option(fc.integer({ min: 0, max: 80 * DAY })),
      }),
      { maxLength: 60 },
    )
    fc.assert(
      fc.property(cases, some => {
        const all = some.map(({ took, ...c }) =>
          one({ ...c, judgedAt: c.createdAt + 7 * DAY, reachedAt: took === null || c.createdAt + took > NOW ? null : c.createdAt + took }),
        )
        const proof = proofOf(all, [], ['early', 'ready'], NOW)
        expect(proof.whole.people + proof.young + proof.early).toBe(all.length)
        for (const groups of [proof.bands, proof.labels]) {
          expect(groups.reduce((n, g) => n + g.people, 0)).toBe(proof.whole.people)
          expect(groups.reduce((n, g) => n + g.reached, 0)).toBe(proof.whole.reached)
        }
        expect(proof.early).toBe(all.filter(c => c.reachedAt !== null && c.reachedAt <= c.judgedAt).length)
      }),
    )
  })
  it('leaves out who is younger than nine in ten took, also those who were quicker', () => {
    // 100 who took 8 to 17 days, and as many who came some days ago, half of whom are there.
    const old = many(100, i => ({ reachedAt: i % 2 ? null : (8 + (i % 20) / 2) * DAY }))
    const fresh = many(50, i => ({ createdAt: NOW - 12 * DAY, judgedAt: NOW - 5 * DAY, reachedAt: i % 2 ? null : NOW - DAY }))
    const proof = proofOf([...old, ...fresh], [], ['early'], NOW)
    expect(proof.within).toBeGreaterThan(12)
    expect(proof).toMatchObject({ young: 50, whole: { people: 100, reached: 50 } })
  })
  it('says of a rule whether it points where people go, the other way, or that it cannot be told', () => {
    const some = (withRule: number, without: number) => [
      ...many(100, i => ({ rules: ['r'], reachedAt: i < withRule ? 20 * DAY : null })),
      ...many(100, i => ({ reachedAt: i < without ? 20 * DAY : null })),
    ]
    const verdict = (points: number, a: number, b: number) => proofOf(some(a, b), rules(points), ['early'], NOW).rules[0]!.verdict
    expect([verdict(10, 40, 10), verdict(10, 10, 40), verdict(-10, 10, 40), verdict(10, 20, 18), verdict(10, 4, 1)]).toEqual([
      'earns',
      'misleads',
      'earns',
      'unsure',
      'unsure',
    ])
  })
  it('finds those who come to it among the best by score, where the score knows', () => {
    const proof = proofOf(
      many(200, i => ({ score: i, reachedAt: i >= 160 ? 20 * DAY : null })),
      [],
      ['early'],
      NOW,
    )
    expect(proof.area!.area).toBe(1)
    expect(proof.gains.find(g => g.share === 0.2)!.captured).toBe(1)
    expect(proof.bands.map(b => [b.from, b.reached])).toEqual([
      [100, 40],
      [80, 0],
      [60, 0],
      [40, 0],
      [20, 0],
      [0, 0],
    ])
    expect(proofOf([], rules(1), ['early'], NOW)).toMatchObject({ area: null, gains: [], bands: [], whole: { people: 0 } })
  })
})
