import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { blankQuestion } from '#core/points/definition'
import { ANYBODY, endsOf } from '#core/results/ends'
import { relative } from '#core/stats/relative'

describe('how many times as often', () => {
  it('is the ratio of two rates, in its range', () => {
    // By hand: 30 of 100 against 20 of 200; ln 3 ± 1.96 · √(1/30 − 1/100 + 1/20 − 1/200), that is ± 0.5123.
    const { ratio, low, high, tooFew } = relative({ hits: 30, trials: 100 }, { hits: 20, trials: 200 })
    expect([ratio.toFixed(9), low.toFixed(3), high.toFixed(3), tooFew]).toEqual(['3.000000000', '1.797', '5.008', false])
  })
  it('turned round is one over it', () => {
    const arm = fc
      .tuple(fc.integer({ min: 5, max: 500 }), fc.integer({ min: 0, max: 500 }))
      .map(([hits, more]) => ({ hits, trials: hits + more }))
    fc.assert(
      fc.property(arm, arm, (a, b) => {
        const [there, back] = [relative(a, b), relative(b, a)]
        expect(there.ratio * back.ratio).toBeCloseTo(1, 9)
        expect(there.low * back.high).toBeCloseTo(1, 9)
        expect(there.low).toBeLessThanOrEqual(there.ratio)
        expect(there.ratio).toBeLessThanOrEqual(there.high)
      }),
    )
  })
  it('says nothing of under five on either side', () => {
    expect(relative({ hits: 4, trials: 10 }, { hits: 90, trials: 100 }).tooFew).toBe(true)
    expect(relative({ hits: 90, trials: 100 }, { hits: 0, trials: 100 }).tooFew).toBe(true)
  })
})

describe('what became of those who answered', () => {
  const q = blankQuestion({
    key: 'size',
    kind: 'one_of',
    label: 'Size',
    choices: ['s', 'l'].map(value => ({ value, text: value.toUpperCase() })),
  })
  const sum = (value: string, people: number, qualified: number, won = 0) => ({ question: 'size', value, people, qualified, won })
  it('compares each answer with all others to the same question, the surest first', () => {
    const rows = endsOf([q], [sum(ANYBODY, 300, 50), sum('s', 200, 20), sum('l', 100, 30), { ...sum('x', 9, 9), question: 'gone' }])
    expect(rows.map(r => [r.text, r.toQualified.ratio.toFixed(2), r.toWon.tooFew])).toEqual([
      ['S', '0.33', true],
      ['L', '3.00', true],
    ])
  })
})
