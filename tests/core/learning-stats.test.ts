import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fitLogistic, likelihood } from '#core/stats/logistic'
import { gains, rocArea, rocDifference } from '#core/stats/roc'

// The same rows as in R:
//   i <- 1:200; x1 <- round(10*sin(i))/10; x2 <- i %% 7; x3 <- as.numeric(i %% 3 == 0); u <- ((i*7919) %% 1000)/1000
//   y <- as.numeric(u < 1/(1+exp(-(-1.5+1.2*x1+0.3*x2-0.8*x3))))
const ROWS = Array.from({ length: 200 }, (_, n) => {
  const i = n + 1
  const [x1, x2, x3] = [Math.round(10 * Math.sin(i)) / 10, i % 7, Number(i % 3 === 0)]
  return { x1, x2, x3, y: Number(((i * 7919) % 1000) / 1000 < 1 / (1 + Math.exp(-(-1.5 + 1.2 * x1 + 0.3 * x2 - 0.8 * x3)))) }
})
const Y = ROWS.map(r => r.y)
const COLUMNS = [ROWS.map(r => r.x1), ROWS.map(r => r.x2), ROWS.map(r => r.x3)]
const SCORE = ROWS.map(r => Math.round(10 * (r.x1 + 0.2 * r.x2)) / 10)
const close = (a: number[], b: number[]) => a.forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 7))

describe('logistic regression', () => {
  it('is what R says: glm(y ~ x1 + x2 + x3, family = binomial)', () => {
    expect(Y.reduce((a, b) => a + b)).toBe(70)
    const fit = fitLogistic(COLUMNS, Y)
    expect(fit.converged).toBe(true)
    close([fit.intercept, ...fit.weights], [-1.225995473766655, 1.011071900315261, 0.223340948599974, -0.493260193888433])
    close(fit.errors!, [0.3243016069603949, 0.2352439060311058, 0.0823259337764342, 0.3478894151990989])
  })
  it('is what R says with a penalty of 2, by Newton’s method on the same sum', () => {
    const fit = fitLogistic(COLUMNS, Y, 2)
    close([fit.intercept, ...fit.weights], [-1.213161481702484, 0.908154590712978, 0.213740760717027, -0.392215567432192])
    expect(fit.errors).toBeNull()
  })
  it('gives the share of outcomes where nothing else is known, and says when there is no one answer', () => {
    expect(likelihood(fitLogistic([], Y), [])).toBeCloseTo(70 / 200, 10)
    const sure = [0, 0, 0, 1, 1, 1]
    expect(fitLogistic([sure], sure).converged).toBe(false)
    expect(fitLogistic([sure], sure, 1).converged).toBe(true)
    expect(fitLogistic([COLUMNS[0]!, COLUMNS[0]!], Y).converged).toBe(false)
    expect(() => fitLogistic([[1, 2]], [1])).toThrow('A column has 2 rows')
    expect(() => fitLogistic([[NaN]], [1])).toThrow('no number')
    expect(() => fitLogistic([], [])).toThrow('no row')
  })
  it('lies where the slope is nothing, whatever the rows are', () => {
    const row = fc.record({ a: fc.integer({ min: -5, max: 5 }), b: fc.boolean(), y: fc.boolean() })
    fc.assert(
      fc.property(fc.array(row, { minLength: 3, maxLength: 60 }), fc.double({ min: 0.1, max: 10, noNaN: true }), (rows, penalty) => {
        const [columns, y] = [[rows.map(r => r.a), rows.map(r => Number(r.b))], rows.map(r => Number(r.y))]
        if (new Set(y).size < 2) return
        const fit = fitLogistic(columns, y, penalty)
        expect(fit.converged).toBe(true)
        const left = y.map((v, i) => likelihood(fit, [columns[0]![i]!, columns[1]![i]!]) - v)
        expect(left.reduce((s, v) => s + v, 0)).toBeCloseTo(0, 6)
        columns.forEach((column, j) => expect(left.reduce((s, v, i) => s + v * column[i]!, penalty * fit.weights[j]!)).toBeCloseTo(0, 6))
      }),
    )
  })
})

describe('the area under a ROC curve', () => {
  it('is what R says, with DeLong’s range and test: pROC’s ci.auc and roc.test', () => {
    const area = rocArea(SCORE, Y)!
    close([area.area, area.low, area.high, area.variance], [0.712802197802198, 0.636566342196639, 0.789038053407756, 0.00151294233550092])
    const other = rocArea(COLUMNS[1]!, Y)!
    close([other.low, other.area, other.high], [0.519474475316419, 0.60021978021978, 0.680965085123141])
    expect(rocDifference(SCORE, COLUMNS[1]!, Y)!.z).toBeCloseTo(2.5618037263817, 7)
  })
  it('is the share of pairs in the right order, ties counting half', () => {
    const people = fc.array(fc.record({ s: fc.integer({ min: 0, max: 6 }), y: fc.boolean() }), { minLength: 4, maxLength: 40 })
    fc.assert(
      fc.property(people, all => {
        const [hits, others] = [all.filter(p => p.y), all.filter(p => !p.y)]
        const area = rocArea(
          all.map(p => p.s),
          all.map(p => p.y),
        )
        if (hits.length < 2 || others.length < 2) {
          expect(area).toBeNull()
          return
        }
        const pairs = hits.flatMap(a => others.map(b => (a.s > b.s ? 1 : a.s === b.s ? 0.5 : 0)))
        expect(area!.area).toBeCloseTo(pairs.reduce((s: number, v) => s + v, 0) / pairs.length, 10)
        expect(area!.low <= area!.area && area!.area <= area!.high).toBe(true)
      }),
    )
  })
  it('covers the truth about as often as it says', () => {
    // Two normal scores a unit apart: the true area is Φ(1/√2) = 0.7602.
    let seed = 5
    const uniform = () => ((seed = (seed * 48271) % 2147483647) - 0.5) / 2147483647
    const normal = () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform())
    let inside = 0
    for (let round = 0; round < 400; round++) {
      const y = Array.from({ length: 120 }, (_, i) => i < 40)
      const area = rocArea(
        y.map(v => normal() + Number(v)),
        y,
      )!
      inside += Number(area.low <= 0.7602499389 && 0.7602499389 <= area.high)
    }
    // 95% of 400, less four standard deviations, and not all of them.
    expect(inside).toBeGreaterThan(362)
    expect(inside).toBeLessThan(398)
  })
})

describe('gains', () => {
  it('captures all at the end, nothing at the beginning, and of equal scores each its share', () => {
    expect(gains([5, 4, 4, 4, 1], [1, 1, 0, 1, 0], [0, 0.2, 0.4, 0.8, 1])).toEqual([
      { share: 0, captured: 0 },
      { share: 0.2, captured: 1 / 3 },
      { share: 0.4, captured: (1 + 2 / 3) / 3 },
      { share: 0.8, captured: 1 },
      { share: 1, captured: 1 },
    ])
    expect(gains([1, 1, 1, 1], [1, 0, 0, 0], [0.5])[0]!.captured).toBe(0.5)
    expect(gains([1], [0], [1])[0]!.captured).toBe(0)
  })
})
