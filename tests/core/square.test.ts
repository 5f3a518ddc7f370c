import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { cellsOf, LEAST, layoutOf, MOST, nextTowards, partOf, within, type Direction } from '#core/scoring/square'

const points = fc.integer({ min: -60, max: 200 })
const pixels = fc.array(fc.tuple(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 0, max: 40 })), { minLength: 1, maxLength: 40 })

describe('the square', () => {
  it('leads from points to pixels and back, and keeps who is beyond at its edge', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 600, max: 1600 }),
        fc.integer({ min: 300, max: 900 }),
        points,
        points,
        (width, height, fit, interest) => {
          const at = layoutOf(width, height)
          const clamped = (n: number) => Math.min(MOST, Math.max(LEAST, n))
          expect([at.fitAt(at.y(fit)), at.interestAt(at.x(interest))]).toEqual([clamped(fit), clamped(interest)])
        },
      ),
    )
  })
  it('finds who is nearest as looking at everybody does', () => {
    fc.assert(
      fc.property(
        pixels,
        fc.integer({ min: 0, max: 40 }),
        fc.integer({ min: 0, max: 40 }),
        fc.integer({ min: 1, max: 30 }),
        (dots, x, y, most) => {
          const [xs, ys] = [dots.map(d => d[0]), dots.map(d => d[1])]
          const distance = (i: number) => (xs[i]! - x) ** 2 + (ys[i]! - y) ** 2
          const least = Math.min(...dots.map((_, i) => distance(i)))
          const found = cellsOf(xs, ys, 7).nearest(x, y, most)
          if (least < most * most) expect(distance(found)).toBe(least)
          else if (least > most * most) expect(found).toBe(-1)
        },
      ),
    )
  })
  it('reaches everybody with arrow keys, wherever one begins', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 300 }), fc.integer({ min: 0, max: 60 })), { minLength: 1, maxLength: 40 }),
        dots => {
          const [xs, ys] = [dots.map(d => d[0]), dots.map(d => d[1])]
          const seen = new Set([0])
          for (const at of seen)
            for (const direction of ['left', 'right', 'up', 'down'] as Direction[]) {
              const next = nextTowards(xs, ys, at, direction)
              if (next >= 0) seen.add(next)
            }
          expect(seen.size).toBe(dots.length)
        },
      ),
      { numRuns: 1000 },
    )
  })
  it('takes in who is between two places in either order, and at the edge whoever is beyond', () => {
    fc.assert(
      fc.property(points, points, points, points, fc.array(fc.tuple(points, points), { maxLength: 30 }), (f1, i1, f2, i2, leads) => {
        const spots = { fit: leads.map(l => l[0]), interest: leads.map(l => l[1]) }
        const found = within(spots, partOf({ fit: f1, interest: i1 }, { fit: f2, interest: i2 }))
        expect(found).toEqual(within(spots, partOf({ fit: f2, interest: i2 }, { fit: f1, interest: i1 })))
        for (const [n, [fit, interest]] of leads.entries()) {
          const between = (v: number, a: number, b: number) =>
            (v >= Math.min(a, b) || Math.min(a, b) <= LEAST) && (v <= Math.max(a, b) || Math.max(a, b) >= MOST)
          expect(found.includes(n)).toBe(between(fit, f1, f2) && between(interest, i1, i2))
        }
      }),
    )
  })
})
