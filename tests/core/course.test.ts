import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { interestThen, inTimeOrder, nextLabel, scoreThen, type ScoreMoment } from '#core/scoring/course'
import { labelFor } from '#core/scoring/labels'
import { decayed, interestSum, type ReasonLine } from '#core/scoring/lines'

const DAY = 86_400_000
const deeds = fc.array(
  fc.record({
    at: fc.integer({ min: 0, max: 90 * DAY }),
    points: fc.integer({ min: -40, max: 60 }),
    fit: fc.integer({ min: -20, max: 40 }),
    halfLife: fc.constantFrom(7, 14, 30),
  }),
  { maxLength: 14 },
)

/** A life as it is kept: lines that are added to, and behind each event what they make. */
function lifeOf(done: { at: number; points: number; fit: number; halfLife: number }[]) {
  const lines: ReasonLine[] = []
  return done
    .toSorted((a, b) => a.at - b.at)
    .map(({ at, points, fit, halfLife }, i) => {
      lines.push({ axis: 'interest', rule: `r${i}`, name: `Rule ${i}`, points, at })
      const kept = [...lines]
      return {
        kept,
        moment: { at, fit, interest: interestSum(kept, at, halfLife), halfLifeDays: halfLife, label: null } satisfies ScoreMoment,
      }
    })
}

describe('the score at a moment of the past', () => {
  it('is what the lines made then, and its parts add up to it', () => {
    fc.assert(
      fc.property(deeds, fc.integer({ min: -DAY, max: 120 * DAY }), (done, at) => {
        const life = lifeOf(done)
        const moments = life.map(l => l.moment)
        const then = scoreThen(moments, at)
        const last = life.findLast(l => l.moment.at <= at)
        const sum = last ? interestSum(last.kept, at, last.moment.halfLifeDays) : 0
        expect(Math.abs(interestThen(moments, at) - sum)).toBeLessThan(1e-9 * (1 + Math.abs(sum)))
        // Within what floats leave of a half.
        if (Math.abs(Math.abs(sum % 1) - 0.5) > 1e-6) expect(then.interest).toBe(Math.round(sum) + 0)
        expect(then.fit).toBe(last?.moment.fit ?? 0)
        expect(then.parts.reduce((n, p) => n + p.fit, 0)).toBe(then.fit)
        expect(then.parts.reduce((n, p) => n + p.interest, 0)).toBe(then.interest)
      }),
    )
  })
  it('goes forward in time where two clocks disagree, and ends with what was written last', () => {
    const slips = fc.array(fc.integer({ min: -2000, max: 2000 }), { minLength: 14, maxLength: 14 })
    fc.assert(
      fc.property(deeds, slips, (done, slip) => {
        const written = lifeOf(done).map((l, i) => ({ ...l.moment, at: l.moment.at + slip[i]! }))
        const moments = inTimeOrder(written)
        for (const [i, m] of moments.entries()) expect(m.at).toBe(Math.max(...written.slice(0, i + 1).map(w => w.at)))
        const [last, end] = [written.at(-1), Math.max(0, ...written.map(w => w.at))]
        expect(scoreThen(moments, end).fit).toBe(last?.fit ?? 0)
        const meant = last ? decayed(last.interest, last.at, end + DAY, last.halfLifeDays) : 0
        expect(interestThen(moments, end + DAY)).toBeCloseTo(meant, 9)
      }),
    )
  })
  it('says of each event what it added, and what is left of that', () => {
    const moments: ScoreMoment[] = [
      { at: 0, fit: 10, interest: 20, halfLifeDays: 10, label: null },
      { at: 10 * DAY, fit: 30, interest: 40, halfLifeDays: 10, label: 'warm' },
    ]
    expect(scoreThen(moments, 20 * DAY)).toEqual({
      fit: 30,
      interest: 20,
      label: 'warm',
      parts: [
        { of: 0, fit: 10, interest: 5 },
        { of: 1, fit: 20, interest: 15 },
      ],
    })
    expect(scoreThen(moments, 5 * DAY)).toMatchObject({ fit: 10, label: null, parts: [{ of: 0 }] })
    expect(scoreThen(moments, -1)).toEqual({ fit: 0, interest: 0, label: null, parts: [] })
  })
})

describe('when a label falls by itself', () => {
  const rules = [
    { label: 'early', fit: -1000, interest: 0 },
    { label: 'warm', fit: 0, interest: 18 },
    { label: 'ready', fit: 30, interest: 30 },
  ]
  const order = ['early', 'warm', 'ready']
  const card = { labels: rules, halfLifeDays: 14 }
  const basis = (labelFloor: string | null) => ({ label: null, labelFloor, labelHeld: null })
  const label = (fit: number, sum: number, floor: string | null) =>
    labelFor(card, order, { fit, interest: Math.round(sum) }, basis(floor)).label
  it('is the first moment at which it is another one', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -5, max: 60 }),
        fc.double({ min: -30, max: 90, noNaN: true }),
        fc.constantFrom(null, 'warm'),
        (fit, sum, floor) => {
          const next = nextLabel(card, order, { fit, sum, ...basis(floor) }, 0)
          const at = (moment: number) => label(fit, decayed(sum, 0, moment, 14), floor)
          if (!next) return void expect([1, 30, 3000].map(d => at(d * DAY))).toEqual(Array.from({ length: 3 }, () => at(0)))
          expect(next.label).not.toBe(at(0))
          expect(at(next.at)).toBe(next.label)
          if (next.at > 2) expect(at(next.at - 2)).toBe(at(0))
        },
      ),
    )
  })
})
