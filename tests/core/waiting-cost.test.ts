import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DEFAULT_HALF, ENOUGH, learnWaitingCost, lostInAnHour, type AnsweredEnd } from '#core/follow-up/waiting-cost'
import { diceOf } from '#core/quiz/shuffle'

const LABELS = ['early', 'warming', 'qualified']
const CHANCES: Record<string, number> = { early: 0.1, warming: 0.3, qualified: 0.7 }

/** Ends of a house in which the chance of each label halves with every `half` promises. */
function houseWith(half: number, n: number, seed: number): AnsweredEnd[] {
  const dice = diceOf(seed)
  return Array.from({ length: n }, () => {
    const label = LABELS[Math.floor(dice() * LABELS.length)]!
    const promises = dice() * 12
    return { label, promises, won: dice() < CHANCES[label]! * 2 ** (-promises / half) }
  })
}

describe('what waiting costs', () => {
  it.each([1, 3, 8])('is found in ends of a house where a chance halves with every %d promises', half => {
    const cost = learnWaitingCost(houseWith(half, 6000, half * 7), LABELS)
    expect(cost.learned).toBe(true)
    expect(Math.abs(Math.log2(cost.halfAfter / half))).toBeLessThan(0.35)
    for (const { label, chance } of cost.chances) expect(Math.abs(chance - CHANCES[label]!)).toBeLessThan(0.08)
  })

  it('is a stated default until there are enough ends of either kind', () => {
    const some = houseWith(1, 4000, 3)
    const won = some.filter(e => e.won)
    const lost = some.filter(e => !e.won)
    for (const few of [
      [],
      some.slice(0, ENOUGH.ends - 1),
      [...won.slice(0, ENOUGH.each - 1), ...lost.slice(0, 400)],
      [...won.slice(0, 400), ...lost.slice(0, ENOUGH.each - 1)],
    ])
      expect(learnWaitingCost(few, LABELS)).toMatchObject({ learned: false, halfAfter: DEFAULT_HALF })
    expect(learnWaitingCost([], LABELS).chances.map(c => c.chance)).toEqual([0.05, expect.closeTo(0.225), 0.4])
  })

  it('passes over ends of labels that there are no more, and of who had none', () => {
    const strangers = houseWith(2, 500, 9).map(e => ({ ...e, label: Math.round(e.promises) % 2 ? null : 'gone' }))
    expect(learnWaitingCost(strangers, LABELS)).toEqual(learnWaitingCost([], LABELS))
  })

  it('is never nothing and never more than the chance; less for who waited longer, more for the better label', () =>
    void fc.assert(
      fc.property(
        fc.double({ min: 0, max: 5000, noNaN: true }),
        fc.double({ min: 1, max: 2000, noNaN: true }),
        fc.integer({ min: 5, max: 2400 }),
        (waited, more, target) => {
          const cost = learnWaitingCost([], LABELS)
          const loss = (label: string | null, minutes: number) => lostInAnHour(cost, label, minutes, target)
          expect(loss('qualified', waited)).toBeGreaterThanOrEqual(loss('qualified', waited + more))
          expect(loss('qualified', waited)).toBeGreaterThanOrEqual(loss('early', waited))
          expect(loss('early', waited)).toBeGreaterThanOrEqual(loss(null, waited))
          expect(loss('qualified', waited)).toBeLessThanOrEqual(0.4)
          expect(loss(null, 0)).toBeGreaterThan(0)
        },
      ),
    ))
})
