import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { blankDefinition } from '#core/points/definition'
import { readDefinition } from '#core/points/shapes/definition'
import { keeping, bucket, experimentOf, inVariant, variantsOf } from '#core/points/variants'
import { rivals, type Arm } from '#core/stats/rivals'

const variant = (key: string, title: string) => ({ key, title, intro: '', button: 'Go', invitation: 'Psst', open: 'Open' })
const arm = fc
  .integer({ min: 0, max: 3000 })
  .chain(trials => fc.record({ hits: fc.integer({ min: 0, max: trials }), trials: fc.constant(trials) }))

describe('variants', () => {
  it('are given out evenly, and to each visitor always the same', () => {
    for (const many of [2, 3, 4]) {
      const counts = Array.from({ length: many }, () => 0)
      const n = 12_000
      for (let i = 0; i < n; i++) counts[bucket(`01930000-0000-7000-8000-${String(i * 7919).padStart(12, '0')}`, 'experiment', many)]!++
      // Chi-squared with at most three degrees of freedom: over 16.3 in one of a thousand fair splits.
      expect(counts.reduce((sum, c) => sum + (c - n / many) ** 2 / (n / many), 0)).toBeLessThan(16.3)
    }
    fc.assert(fc.property(fc.uuid(), visitor => bucket(visitor, 'x', 3) === bucket(visitor, 'x', 3)))
    // Who got the first in one experiment is not bound to get it in the next.
    const both = Array.from({ length: 4000 }, (_, i) => [bucket(`v${i}`, 'one', 2), bucket(`v${i}`, 'two', 2)])
    const alike = both.filter(([a, b]) => a === b).length
    expect(Math.abs(alike - 2000)).toBeLessThan(200)
  })
  it('are one experiment until a text changes, and none when one is kept', () => {
    const d = { ...blankDefinition('First'), variants: [variant('b', 'Second')] }
    expect(experimentOf(d)).toBe(experimentOf({ ...d, thanks: 'Other' }))
    // PostgreSQL gives the fields back in an order of its own.
    expect(experimentOf(d)).toBe(
      experimentOf({ ...d, variants: d.variants.map(w => Object.fromEntries(Object.entries(w).reverse()) as unknown as typeof w) }),
    )
    expect(experimentOf(d)).not.toBe(experimentOf({ ...d, button: 'Now' }))
    expect(experimentOf(d)).not.toBe(experimentOf({ ...d, variants: [variant('b', 'Third')] }))
    expect(variantsOf(d).map(w => w.title)).toEqual(['First', 'Second'])
    expect(inVariant(d, 'b')).toMatchObject({ title: 'Second', button: 'Go', display: { invitation: 'Psst' } })
    const kept = keeping(d, 'b')
    expect(kept).toMatchObject({ title: 'Second', variants: [] })
    expect(experimentOf(kept)).toBeNull()
  })
  it('are read with the rest of a point, and refused where two have one key', () => {
    const plain = (variants: unknown) => JSON.parse(JSON.stringify({ ...blankDefinition('First'), variants })) as unknown
    expect(readDefinition(plain([variant('b', 'Second')])).definition?.variants).toEqual([variant('b', 'Second')])
    for (const wrong of [[variant('b', 'x'), variant('b', 'y')], [variant('a', 'x')], [variant('b', 'x'.repeat(500))], 'nonsense'])
      expect(readDefinition(plain(wrong)).flaws.length).toBeGreaterThan(0)
  })
})

describe('rivals', () => {
  /** The probability that B is better than A, in a sum (J. Cook, Exact calculation of beta inequalities, 2005, for whole numbers). */
  function betterExact(a: Arm, b: Arm): number {
    const logGamma = (n: number) => {
      let s = 0
      for (let i = 2; i < n; i++) s += Math.log(i)
      return s
    }
    const logBeta = (x: number, y: number) => logGamma(x) + logGamma(y) - logGamma(x + y)
    const [aa, ab, ba, bb] = [1 + a.hits, 1 + a.trials - a.hits, 1 + b.hits, 1 + b.trials - b.hits]
    let sum = 0
    for (let i = 0; i < ba; i++) sum += Math.exp(logBeta(aa + i, ab + bb) - Math.log(bb + i) - logBeta(1 + i, bb) - logBeta(aa, ab))
    return sum
  }
  it('have the probability of being better that the exact sum gives', () => {
    const small = fc
      .integer({ min: 0, max: 300 })
      .chain(trials => fc.record({ hits: fc.integer({ min: 0, max: trials }), trials: fc.constant(trials) }))
    fc.assert(
      fc.property(small, small, (a, b) => {
        expect(rivals([a, b])[1]!.best).toBeCloseTo(betterExact(a, b), 3)
      }),
      { numRuns: 60 },
    )
  })
  it('share the probability among them, whatever their order, and lose nothing only where nothing better can be', () => {
    fc.assert(
      fc.property(fc.array(arm, { minLength: 2, maxLength: 4 }), arms => {
        const came = rivals(arms)
        expect(came.reduce((n, r) => n + r.best, 0)).toBeCloseTo(1, 9)
        const back = rivals([...arms].reverse()).reverse()
        for (const [i, r] of came.entries()) {
          expect(r.best).toBeCloseTo(back[i]!.best, 9)
          expect(r.loss).toBeGreaterThanOrEqual(0)
          expect(r.low).toBeLessThanOrEqual(r.mean)
          expect(r.high).toBeGreaterThanOrEqual(r.mean)
        }
        // The least loss is that of the highest mean.
        const least = came.reduce((m, r) => (r.loss < m.loss ? r : m))
        expect(least.mean).toBeCloseTo(Math.max(...came.map(r => r.mean)), 6)
      }),
      { numRuns: 40 },
    )
  })
  it('say nothing before anybody came, little of a handful, and much of many', () => {
    const none = rivals([
      { hits: 0, trials: 0 },
      { hits: 0, trials: 0 },
    ])
    expect(none[0]!.best).toBeCloseTo(0.5, 9)
    // Of two evenly spread rates the better lies a sixth above the middle: ∫ 1 − x² = 2/3.
    expect(none[0]!.loss).toBeCloseTo(1 / 6, 4)
    expect(
      rivals([
        { hits: 1, trials: 10 },
        { hits: 2, trials: 10 },
      ])[1]!.best,
    ).toBeLessThan(0.8)
    const many = rivals([
      { hits: 300, trials: 6000 },
      { hits: 420, trials: 6000 },
    ])
    expect(many[1]!.best).toBeGreaterThan(0.999)
    expect(many[0]!.loss).toBeCloseTo(0.02, 3)
  })
  it('are right of what they say: the better of two made-up rates is called better as often as it says', () => {
    // Rates drawn from the prior, outcomes drawn from the rates: of all calls at about 80%, about 80% are right.
    let state = 42
    const dice = () => {
      state = (Math.imul(state ^ (state >>> 15), 0x2c1b3c6d) + 0x9e3779b9) | 0
      state ^= state >>> 13
      return (state >>> 0) / 2 ** 32
    }
    let said = 0
    let right = 0
    for (let run = 0; run < 500; run++) {
      const [p, q] = [dice(), dice()]
      const draw = (rate: number) => Array.from({ length: 30 }, () => (dice() < rate ? 1 : 0)).reduce<number>((n, h) => n + h, 0)
      const [a, b] = rivals([
        { hits: draw(p), trials: 30 },
        { hits: draw(q), trials: 30 },
      ])
      const better = a!.best > b!.best
      said += Math.max(a!.best, b!.best)
      if (better === p > q) right++
    }
    expect(Math.abs(right - said)).toBeLessThan(40)
  })
})
