import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holds, type Condition } from '#core/conditions/condition'
import { choose, lanesFor, type Choice } from '#core/routing/choose'
import { lookedAfterBy, type Colleague } from '#core/routing/colleagues'
import { readPlan, type Lane, type RoutingPlan } from '#core/routing/plan'
import { take, whoseTurn, type Credits } from '#core/routing/turns'
import { sameHours } from '#core/working-time'
import { colleague, desks, lane, planOf, seats } from '../support/plans'

const school: Condition = { attribute: 'property.sector', is: 'equal', value: 'school' }
const plan = planOf(lane('schools', { when: school, pool: seats('a', 'b') }), lane('rest', { pool: seats('b', 'c', 'a') }))

/** A Monday at noon in Paris, in the evening, and the morning after it. */
const [NOON, EVENING, MORNING] = ['12:00', '20:00', '08:00'].map((t, i) => Date.parse(`2026-11-${i === 2 ? 24 : 23}T${t}+01:00`)) as [
  number,
  number,
  number,
]
const DAY = 86_400_000
const office = { zone: 'Europe/Paris', week: sameHours([1, 2, 3, 4, 5], 8, 18) }
const person = (id: string, more: Partial<Colleague> = {}): Colleague => colleague(id, { hours: office, ...more })
const away = (standIn: string | null = null, from = NOON - DAY, until = NOON + 3 * DAY) => ({ absences: [{ from, until, standIn }] })
const peopleOf = (...all: Colleague[]) => new Map(all.map(c => [c.id, c]))
const ABC = peopleOf(person('a'), person('b'), person('c'))

function route(of: RoutingPlan, sector: string, people = ABC, all = desks(), at = NOON, language: string | null = null): Choice {
  const lanes = lanesFor(of, when => holds(when, name => (name === 'property.sector' ? sector : undefined)), people, at, language)
  const choice = choose(lanes, people, all.of('l'), at, language)
  if (choice && 'member' in choice) all.gave(choice.lane.key, choice.member)
  return choice
}
const owner = (choice: Choice) => (choice && 'member' in choice ? choice.member : null)

describe('lanes', () => {
  it('are taken from the top; the last is for whoever is left', () => {
    expect(route(plan, 'school')).toMatchObject({ lane: { key: 'schools' }, member: 'a' })
    expect(route(plan, 'vineyard')).toMatchObject({ lane: { key: 'rest' }, member: 'b' })
  })
  it('go on to the next when nobody of a pool is there or has room, and to nobody when nobody is', () => {
    expect(route(plan, 'school', peopleOf(person('c')))).toMatchObject({ lane: { key: 'rest' }, member: 'c' })
    expect(route(plan, 'school', peopleOf(person('a', away()), person('b', { mostOpen: 0 }), person('c')))).toMatchObject({
      lane: { key: 'rest' },
      member: 'c',
    })
    expect(route(plan, 'school', new Map())).toBeNull()
    expect(route(plan, 'school', peopleOf(person('a', away()), person('b', away()), person('c', away())))).toBeNull()
  })
  it('find whoever owns others of the firm, or owned the lead before, as far as they are there and have room', () => {
    const knows = (way: Lane['way'], outside: Lane['outside'] = 'anyway'): RoutingPlan =>
      planOf(lane('known', { when: { all: [] }, way, outside }), lane('rest', { pool: seats('c') }))
    const desk = () => desks({ firmOwners: () => ['gone', 'a', 'b'], earlierOwners: () => ['b'] })
    expect(owner(route(knows('firm_owner'), '', ABC, desk()))).toBe('a')
    expect(owner(route(knows('earlier_owner'), '', ABC, desk()))).toBe('b')
    expect(owner(route(knows('firm_owner'), '', ABC))).toBe('c')
    expect(owner(route(knows('firm_owner'), '', peopleOf(person('a', { mostOpen: 0 }), person('b'), person('c')), desk()))).toBe('b')
    expect(route(knows('earlier_owner'), '', peopleOf(person('b', away('c')), person('c')), desk())).toMatchObject({
      member: 'c',
      standsInFor: 'b',
      lane: { key: 'known' },
    })
    expect(owner(route(knows('earlier_owner', 'present'), '', ABC, desk(), EVENING))).toBe('c')
    expect(route(knows('earlier_owner', 'waits'), '', ABC, desk(), EVENING)).toMatchObject({ waits: MORNING })
  })
  it('give to who has least open work for their share', () => {
    const least: RoutingPlan = planOf(lane('rest', { way: 'least_open', pool: seats('a', 'b2') }))
    const at = desks()
    at.open.set('a', 3)
    expect(Array.from({ length: 9 }, () => owner(route(least, '', ABC, at))).join('')).toBe('bbbbbbbab')
  })
  it('keep to the limit of each, whoever comes', () => {
    const people = peopleOf(person('a', { mostOpen: 2 }), person('b', { mostOpen: 3 }), person('c'))
    const at = desks()
    for (let n = 0; n < 12; n++) route(plan, 'school', people, at)
    expect([...at.open]).toEqual([
      ['a', 2],
      ['b', 3],
      ['c', 7],
    ])
  })
  it('give to who speaks the language, as far as somebody does', () => {
    const people = peopleOf(person('a', { languages: ['en'] }), person('b', { languages: ['en', 'fr'] }), person('c'))
    const speaking: RoutingPlan = planOf(lane('rest', { pool: seats('a', 'b', 'c'), speaks: true }))
    const of = (language: string | null) =>
      new Set(Array.from({ length: 6 }, (_, n) => owner(route(speaking, '', people, desks(), NOON + n, language))))
    expect([of('fr'), of('en'), of('el'), of(null)].map(s => [...s].join())).toEqual(['b', 'a', 'a', 'a'])
  })
})

describe('hours', () => {
  const late = person('b', { hours: { zone: 'Europe/Paris', week: sameHours([1, 2, 3, 4, 5], 12, 22) } })
  const early = person('a')
  const three = (outside: Lane['outside']): RoutingPlan =>
    planOf(lane('some', { when: { all: [] }, outside, pool: seats('a', 'b') }), lane('rest', { pool: seats('c') }))
  const people = peopleOf(early, late, person('c'))
  it('count not at all, count for each, or make the lead wait until the first of them begins', () => {
    expect(owner(route(three('anyway'), '', people, desks(), EVENING))).toBe('a')
    expect(owner(route(three('present'), '', people, desks(), EVENING))).toBe('b')
    expect(owner(route(three('present'), '', people, desks(), EVENING + 3 * 3_600_000))).toBe('c')
    expect(route(three('waits'), '', people, desks(), EVENING + 3 * 3_600_000)).toMatchObject({ lane: { key: 'some' }, waits: MORNING })
  })
  it('give what waited at night to all who come that day, not to whoever begins first', () => {
    const at = desks()
    const got = Array.from({ length: 6 }, () => owner(route(three('waits'), '', people, at, MORNING)))
    expect(got.sort().join('')).toBe('aaabbb')
  })
  it('leave out who is away, and make a lead wait for who comes back first', () => {
    const soon = person('a', away(null, NOON - DAY, NOON + DAY))
    expect(owner(route(three('anyway'), '', peopleOf(soon, late)))).toBe('b')
    expect(route(three('waits'), '', peopleOf(soon, person('b', away())))).toMatchObject({ waits: NOON + DAY })
  })
  it('make a lead wait for whoever stands in, where all are away, and not until they are back', () => {
    const people = peopleOf(person('a', away('c')), person('b', away('late')), person('c'), { ...late, id: 'late' })
    expect(route(three('waits'), '', people, desks(), EVENING + 3 * 3_600_000)).toMatchObject({ waits: MORNING })
    expect(route(planOf(lane('one', { pool: seats('b', 'a') })), '', people)).toMatchObject({ member: 'late', standsInFor: 'b' })
    expect(route(planOf(lane('one', { pool: seats('gone', 'a') })), '', people)).toMatchObject({ member: 'c', standsInFor: 'a' })
  })
  it('let whoever stands in take the place of a lane all of whose people are away', () => {
    const chain = peopleOf(person('a', away('b')), person('b', away('c')), person('c'))
    expect(lookedAfterBy(chain, 'a', NOON)?.id).toBe('c')
    expect(owner(route(planOf(lane('one', { pool: seats('a') })), '', chain))).toBe('c')
    expect(lookedAfterBy(peopleOf(person('a', away('b')), person('b', away('a'))), 'a', NOON)).toBeNull()
    expect(lookedAfterBy(peopleOf(person('a', away('gone'))), 'a', NOON)).toBeNull()
  })
})

describe('turns', () => {
  const shares = fc.array(fc.integer({ min: 1, max: 100 }), { minLength: 1, maxLength: 12 })
  const poolOf = (all: number[]) => all.map((share, i) => ({ member: `m${i}`, share }))
  it('are exact: after any number of leads nobody is a whole one from their share', () => {
    fc.assert(
      fc.property(shares, fc.integer({ min: 1, max: 600 }), (all, leads) => {
        const pool = poolOf(all)
        const credits: Credits = new Map()
        const got = new Map<string, number>()
        const sum = all.reduce((a, b) => a + b)
        for (let n = 1; n <= leads; n++) {
          const member = whoseTurn(pool, credits)!
          take(pool, credits, member)
          got.set(member, (got.get(member) ?? 0) + 1)
          for (const seat of pool) expect(Math.abs((got.get(seat.member) ?? 0) - (n * seat.share) / sum)).toBeLessThan(1)
        }
      }),
    )
  })
  it('neither drown who comes back nor pass them over, and let who is new begin level', () => {
    fc.assert(
      fc.property(
        shares,
        fc.array(fc.tuple(fc.integer({ min: 0, max: 11 }), fc.integer({ min: 1, max: 60 })), { maxLength: 8 }),
        (all, absences) => {
          const pool = poolOf(all)
          const credits: Credits = new Map()
          for (const [who, leads] of absences) {
            const there = pool.length > 1 ? pool.filter((_, i) => i !== who % pool.length) : pool
            for (let n = 0; n < leads; n++) take(there, credits, whoseTurn(there, credits)!)
          }
          // From here on all are there: each gets their share, and what was owed before is at most made up.
          const before = new Map(pool.map(s => [s.member, credits.get(s.member) ?? 0]))
          const sum = all.reduce((a, b) => a + b)
          const got = new Map<string, number>()
          for (let n = 1; n <= 200; n++) {
            const member = whoseTurn(pool, credits)!
            take(pool, credits, member)
            got.set(member, (got.get(member) ?? 0) + 1)
            for (const seat of pool) {
              const from = (got.get(seat.member) ?? 0) - (n * seat.share) / sum
              expect(from).toBeGreaterThan(Math.min(0, before.get(seat.member)!) - 1 - 1e-6 - slack(before))
              expect(from).toBeLessThan(Math.max(0, before.get(seat.member)!) + 1 + 1e-6 + slack(before))
            }
          }
        },
      ),
    )
    /** What the others are owed together, who were away in turn: it is at most made up, too. */
    function slack(before: Map<string, number>): number {
      return [...before.values()].reduce((sum, credit) => sum + Math.max(0, Math.abs(credit) - 1), 0)
    }
    const credits: Credits = new Map([
      ['a', 0.2],
      ['b', -0.2],
    ])
    expect(
      Array.from({ length: 4 }, () => {
        const pool = seats('a', 'b', 'new')
        const member = whoseTurn(pool, credits)!
        take(pool, credits, member)
        return member
      }),
    ).toEqual(['a', 'new', 'b', 'a'])
  })
  it('go to the earliest in the pool among equals', () => {
    expect(whoseTurn(seats('x', 'y'), new Map())).toBe('x')
    expect(whoseTurn(seats('x', 'y'), new Map([['x', -1]]))).toBe('y')
    expect(whoseTurn([], new Map())).toBeNull()
  })
})

describe('a plan', () => {
  it('is read only when its last lane, and no other, takes everybody, and has people of its own', () => {
    expect(readPlan(plan).plan).toEqual(plan)
    expect(readPlan({ ...plan, lanes: [...plan.lanes].reverse() }).flaws[0]?.field).toBe('lanes.0.when')
    expect(readPlan({ ...plan, lanes: [plan.lanes[1], plan.lanes[1]] }).plan).toBeNull()
    expect(readPlan(planOf(lane('rest', { way: 'firm_owner' }))).flaws[0]?.field).toBe('lanes.0.way')
    expect(readPlan(planOf(lane('rest', { promises: { early: 0 } }))).flaws[0]?.field).toBe('lanes.0.promises.early')
    expect(readPlan({ version: 2, lanes: [] }).plan).toBeNull()
    expect(readPlan(planOf(lane('rest', { pool: seats('a', 'a') }))).plan).toBeNull()
    expect(readPlan(undefined).plan).toBeNull()
  })
  it('of version 1 is read as one by turns, at any hour', () => {
    const old = {
      version: 1,
      lanes: [
        { key: 'schools', name: 'schools', when: school, pool: ['a', 'b', 'a'] },
        { key: 'rest', name: 'rest', when: null, pool: ['b', 'c', 'a'] },
      ],
    }
    expect(readPlan(old).plan).toEqual(plan)
  })
})
