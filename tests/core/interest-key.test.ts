import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { crossing, interestAt, interestKey } from '#core/scoring/interest-key'
import { interestBounds, labelFor } from '#core/scoring/labels'
import { decayed, EARLIER, interestSum, scoreAt, totalsAt, type ReasonLine } from '#core/scoring/lines'
import { repriced, withActivities, type Activity } from '#core/scoring/score'
import type { Scorecard } from '#core/scoring/scorecard'

const DAY = 86_400_000
const START = Date.UTC(2026, 0, 1)
const halfLife = fc.constantFrom(0.25, 3, 14, 90, 3650)
const sum = fc.oneof(fc.integer({ min: -300, max: 300 }), fc.double({ min: -300, max: 300, noNaN: true }))
const moment = fc.integer({ min: 0, max: 400 * DAY }).map(ms => START + ms)
const fade = (v: number, at: number, now: number, days: number) => decayed(v, at, now, days)

describe('the key of an interest', () => {
  it('orders leads by what is left of it, at any moment, whenever each was worked out', () => {
    fc.assert(
      fc.property(sum, moment, sum, moment, halfLife, fc.integer({ min: 0, max: 300 * DAY }), (a, atA, b, atB, days, later) => {
        const now = Math.max(atA, atB) + later
        const [leftA, leftB] = [fade(a, atA, now, days), fade(b, atB, now, days)]
        // What is nearly nothing counts as nothing, and nearly equal ones may stand either way.
        if (
          Math.abs(a) < 0.002 ||
          Math.abs(b) < 0.002 ||
          Math.abs(leftA - leftB) <= 1e-9 * Math.max(Math.abs(leftA), Math.abs(leftB)) ||
          leftA === leftB
        )
          return
        expect(Math.sign(interestKey(a, atA, days) - interestKey(b, atB, days))).toBe(Math.sign(leftA - leftB))
      }),
      { numRuns: 2000 },
    )
  })
  it('is the same whenever it is worked out, and gives the interest back', () => {
    fc.assert(
      fc.property(sum, moment, halfLife, fc.integer({ min: 0, max: 60 * DAY }), (v, at, days, later) => {
        const left = fade(v, at, at + later, days)
        if (Math.abs(left) < 0.01) return
        expect(interestKey(left, at + later, days)).toBeCloseTo(interestKey(v, at, days), 8)
        expect(interestAt(interestKey(v, at, days), at + later, days)).toBeCloseTo(left, 6)
      }),
    )
    expect([interestKey(0, START, 14), interestKey(0.0009, START, 14), interestAt(0, START, 14)]).toEqual([0, 0, 0])
  })
  it('says when a label changes: it is the same until a moment before, and another just behind', () => {
    const bounds = fc.array(fc.integer({ min: -40, max: 60 }), { minLength: 1, maxLength: 5 })
    fc.assert(
      fc.property(sum, moment, halfLife, bounds, (v, at, days, lines) => {
        const reached = (now: number) => lines.map(line => Math.round(fade(v, at, now, days)) >= line)
        const turn = crossing(v, at, days, lines)
        if (turn === Infinity) expect(reached(at + 100 * 365 * DAY)).toEqual(reached(at))
        else {
          expect(reached(turn - 3)).toEqual(reached(at))
          expect(reached(turn + 1)).not.toEqual(reached(at))
        }
      }),
      { numRuns: 2000 },
    )
  })
})

const CARD: Scorecard = {
  version: 1,
  halfLifeDays: 10,
  fit: [],
  interest: [
    { key: 'entry', name: 'Entry', points: 20, on: 'entry', when: null },
    { key: 'page', name: 'Page', points: -3, on: 'page_view', when: null },
  ],
  labels: [
    { label: 'early', fit: -1000, interest: 0 },
    { label: 'warm', fit: 0, interest: 18 },
  ],
}
const never = () => ({ holds: false, until: Infinity })
const activity = (kind: Activity['kind'], at: number, note: string): Activity => ({ kind, at, note, attributes: () => undefined })

describe('lines of interest', () => {
  it('lose nothing when they are many, old or small: what is left of all of them is what was earned', () => {
    const done = fc.array(fc.record({ at: fc.integer({ min: 0, max: 200 * DAY }), entry: fc.boolean() }), { minLength: 1, maxLength: 700 })
    fc.assert(
      fc.property(done, fc.integer({ min: 1, max: 4 }), (all, parts) => {
        const sorted = all.sort((a, b) => a.at - b.at)
        const size = Math.ceil(sorted.length / parts)
        let lines: ReasonLine[] = []
        let now = START
        for (let from = 0; from < sorted.length; from += size) {
          const some = sorted.slice(from, from + size)
          now = START + some.at(-1)!.at
          lines = withActivities(
            CARD,
            lines,
            never,
            some.map((d, i) => activity(d.entry ? 'entry' : 'page_view', START + d.at, `${from + i}`)),
            now,
          ).lines
        }
        const earned = sorted.reduce((left, d) => left + decayed(d.entry ? 20 : -3, START + d.at, now, 10), 0)
        expect(interestSum(lines, now, 10)).toBeCloseTo(earned, 1)
        expect(lines.length).toBeLessThanOrEqual(301)
        expect(lines.filter(l => l.rule === EARLIER).length).toBeLessThanOrEqual(1)
      }),
      { numRuns: 60 },
    )
  })
  it('are shown as whole points that add up; what is left of earlier ones stands as one, and not at all while it is nothing', () => {
    const line = (points: number): ReasonLine => ({ axis: 'interest', rule: EARLIER, name: 'Earlier', points, at: START })
    const entry: ReasonLine = { axis: 'interest', rule: 'entry', name: 'Entry', points: 20, at: START }
    expect(scoreAt([line(2.4), entry], START, 10).reasons.map(r => [r.name, r.points, r.now])).toEqual([
      ['Earlier', 2, 2],
      ['Entry', 20, 20],
    ])
    expect(scoreAt([line(0.3), entry], START, 10)).toMatchObject({ interest: 20, reasons: [{ name: 'Entry' }] })
  })
  it('take what another scorecard gives for the same rule, and go with a rule that is gone', () => {
    const before: ReasonLine[] = [
      { axis: 'interest', rule: EARLIER, name: 'Earlier', points: 0.3, at: 0 },
      { axis: 'interest', rule: 'entry', name: 'Entry', points: 20, at: 1 },
      { axis: 'interest', rule: 'gone', name: 'Gone', points: 9, at: 2 },
    ]
    const card = { ...CARD, interest: [{ ...CARD.interest[0]!, points: 30, name: 'Asked' }] }
    expect(repriced(card, before).map(l => [l.rule, l.name, l.points])).toEqual([
      [EARLIER, 'Earlier', 0.3],
      ['entry', 'Asked', 30],
    ])
  })
  it('leave a line that they lie on just now at once', () => {
    expect([3.5, 0.5, -3.5].map(v => crossing(v, START, 14, [Math.round(v)]))).toEqual([START + 1, START + 1, Infinity])
    const line: ReasonLine = { axis: 'interest', rule: 'e', name: 'E', points: 7, at: START - 14 * DAY }
    expect([START, START + 1].map(at => totalsAt([line], at, 14).interest)).toEqual([4, 3])
    expect(crossing(interestSum([line], START, 14), START, 14, [4])).toBe(START + 1)
  })
  it('make a label that stays until the crossing that their bounds say', () => {
    const lines: ReasonLine[] = [{ axis: 'interest', rule: 'entry', name: 'Entry', points: 20, at: START }]
    const turn = crossing(interestSum(lines, START, 10), START, 10, interestBounds(CARD, 0))
    const label = (now: number) =>
      labelFor(CARD, ['early', 'warm'], { fit: 0, interest: totalsAt(lines, now, 10).interest }, { label: null, labelFloor: null }).label
    expect([label(START), label(turn - 2), label(turn)]).toEqual(['warm', 'warm', 'early'])
  })
})
