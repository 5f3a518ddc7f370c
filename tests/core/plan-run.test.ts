import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isLate, runPlan, shareWithin, sumsOf, type Assumed, type Gave, type PastLead } from '#core/routing/dry-run'
import type { RoutingPlan } from '#core/routing/plan'
import { sameHours } from '#core/working-time'
import { colleague, lane, planOf, seats } from '../support/plans'

const HOUR = 3_600_000
const DAY = 24 * HOUR
/** A Monday, nine in Paris. */
const NINE = Date.parse('2026-06-01T07:00:00Z')
const OFFICE = { zone: 'Europe/Paris', week: sameHours([1, 2, 3, 4, 5], 9, 17) }
const assumed = (more: Partial<Assumed> & { who?: Parameters<typeof colleague>[1] } = {}): Assumed => ({
  people: new Map(['rowan', 'sorrel', 'tansy'].map(id => [id, colleague(id, { hours: OFFICE, ...more.who })])),
  paces: new Map([[null, [30, 60, 90, 120]]]),
  speed: 1,
  open: new Map(),
  firms: new Map(),
  promised: () => 60,
  hours: OFFICE,
  ...more,
})
let n = 0
const came = (at: number, more: Partial<PastLead> = {}): PastLead => ({
  id: `l${++n}`,
  at,
  language: null,
  label: null,
  firm: null,
  closedAt: null,
  earlier: [],
  holds: () => true,
  ...more,
})

/** What comes of leads that are sent a few at a time. */
function sent(plan: RoutingPlan, leads: readonly PastLead[], all: Assumed, atOnce = 2): Gave[] {
  const run = runPlan(plan, all)
  for (let from = 0; from < leads.length; from += atOnce) run.send(leads.slice(from, from + atOnce))
  return run.end()
}

describe('leads of the past through a plan', () => {
  it('come out in fair turns, whatever their number, and each comes out once', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(20 * 24), { minLength: 1, maxLength: 60 }), hours => {
        const leads = hours.toSorted((a, b) => a - b).map(h => came(NINE + h * HOUR))
        const plan = planOf(lane('rest', { pool: seats('rowan', 'sorrel2', 'tansy') }))
        const gave = sent(plan, leads, assumed())
        expect(sent(plan, leads, assumed(), 1000)).toEqual(gave)
        expect(gave.map(g => g.lead).toSorted()).toEqual(leads.map(l => l.id).toSorted())
        for (const [who, share] of [
          ['rowan', 1],
          ['sorrel', 2],
          ['tansy', 1],
        ] as const)
          expect(Math.abs(gave.filter(g => g.member === who).length - (leads.length * share) / 4)).toBeLessThan(1)
      }),
    )
  })
  it('wait for the morning where the lane waits, in the order in which they came', () => {
    const leads = [came(NINE + 10 * HOUR), came(NINE + 11 * HOUR), came(NINE + DAY)]
    const gave = sent(planOf(lane('night', { outside: 'waits', pool: seats('rowan') })), leads, assumed())
    expect(gave.map(g => [g.lead, g.at - NINE, isLate(g)])).toEqual([
      [leads[0]!.id, DAY, true],
      [leads[1]!.id, DAY, true],
      [leads[2]!.id, DAY, false],
    ])
    // The clock of a promise runs in working time: a night takes nothing of it.
    expect(gave.map(g => g.kept)).toEqual([0.5, 0.5, 0.5])
  })
  it('find nobody while all are at their limit, and somebody once one is closed', () => {
    const plan = planOf(lane('rest', { pool: seats('rowan') }))
    const leads = [came(NINE, { closedAt: NINE + 8 * HOUR }), came(NINE + HOUR), came(NINE + 2.5 * HOUR)]
    const gave = sent(plan, leads, assumed({ who: { mostOpen: 1 } }))
    expect(gave.map(g => [g.lead, g.member])).toEqual([
      [leads[0]!.id, 'rowan'],
      [leads[1]!.id, 'rowan'],
      [leads[2]!.id, null],
    ])
    expect(gave[1]!.at).toBeGreaterThanOrEqual(NINE + 8 * HOUR)
  })
  it('go to whoever got others of the firm, in the run or before it', () => {
    const plan = planOf(lane('firm', { way: 'firm_owner' }), lane('rest', { pool: seats('rowan', 'sorrel') }))
    const gave = sent(
      plan,
      [came(NINE, { firm: 'new' }), came(NINE + 1, { firm: 'new' }), came(NINE + 2, { firm: 'known' })],
      assumed({ firms: new Map([['known', ['tansy']]]) }),
    )
    expect(gave.map(g => [g.member, g.lane])).toEqual([
      ['rowan', 'rest'],
      ['rowan', 'firm'],
      ['tansy', 'firm'],
    ])
  })
  it('a faster team keeps more promises, never fewer', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 500 }), { minLength: 1 }),
        fc.double({ min: 0.1, max: 5, noNaN: true }),
        (pace, speed) => {
          const kept = (s: number) =>
            sent(
              planOf(lane('rest', { pool: seats('rowan') })),
              [came(NINE)],
              assumed({ paces: new Map([[null, pace.toSorted((a, b) => a - b)]]), speed: s }),
            )[0]!.kept!
          expect(kept(speed * 2)).toBeGreaterThanOrEqual(kept(speed))
        },
      ),
    )
  })
  it('the share of answers within a time is counted, not guessed', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 99 }), { minLength: 1 }), fc.integer({ min: -5, max: 110 }), (all, minutes) => {
        expect(
          shareWithin(
            all.toSorted((a, b) => a - b),
            minutes,
          ),
        ).toBeCloseTo(all.filter(m => m <= minutes).length / all.length, 12)
      }),
    )
  })
  it('are summed up so that people, lanes and nobody make all of them', () => {
    const plan = planOf(
      lane('waits', { outside: 'waits', pool: seats('rowan'), when: { attribute: 'x', is: 'filled' } }),
      lane('rest', { pool: seats('sorrel') }),
    )
    const leads = Array.from({ length: 20 }, (_, i) => came(NINE + i * 7 * HOUR, { holds: () => i % 2 === 0 }))
    const all = assumed()
    const sums = sumsOf(plan, sent(plan, leads, all), ['rowan', 'sorrel', 'tansy'], at => new Date(at).toISOString().slice(0, 10))
    expect(sums.people.reduce((s, p) => s + p.leads, 0) + sums.nobody).toBe(20)
    expect(sums.lanes.reduce((s, l) => s + l.leads, 0) + sums.nobody).toBe(20)
    for (const p of sums.people) expect(Object.values(p.days).reduce((a, b) => a + b, 0)).toBe(p.leads)
    expect(sums.waited.leads).toBeGreaterThan(0)
    expect(sums.kept).toBeCloseTo(
      sums.people.reduce((s, p) => s + p.kept, 0),
      9,
    )
  })
})
