import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holds, type Condition } from '#core/conditions/condition'
import { impliesThat, planChecks, type PlanSurroundings } from '#core/routing/checks'
import { addLane, firstPlan, moveLane, orderLanes, removeLane, seat, setPromise, setShare, unseat } from '#core/routing/edit'
import { readPlan, type Lane } from '#core/routing/plan'
import { withLabel } from '#core/scoring/label-join'
import { sameHours } from '#core/working-time'
import { dayInWords, readDay, weekFlaw } from '#core/working-week'
import { colleague, lane, planOf, seated } from '../support/plans'

const is = (attribute: string, ...value: string[]): Condition => ({ attribute, is: 'one_of', value })
const SCHOOL = is('property.sector', 'school')
const week = (...days: number[]) => ({ hours: { zone: 'Europe/Paris', week: sameHours(days, 8, 18) } })
const around: PlanSurroundings = {
  properties: new Set(['sector', 'size']),
  segments: new Set(),
  lists: new Set(),
  labels: new Set(['early']),
  workingDays: [1, 2, 3, 4, 5],
  people: new Map([
    ['ada', { ...colleague('ada', week(1, 2, 3, 4)), name: 'Ada', role: 'sales' }],
    ['bo', { ...colleague('bo', week(1, 2, 3)), name: 'Bo', role: 'sales' }],
    ['cy', { ...colleague('cy'), name: 'Cy', role: 'sales' }],
    ['max', { ...colleague('max', { mostOpen: 5 }), name: 'Max', role: 'manager' }],
    ['tam', { ...colleague('tam'), name: 'Tam', role: 'marketer' }],
  ]),
}
const says = (...lanes: Lane[]) => planChecks(planOf(...lanes), around).map(c => `${c.level} ${c.place}: ${c.message}`)

describe('the checks of a plan', () => {
  it('stop a lane with nobody in it, with people who left or may not work with leads, or that asks for what is gone', () => {
    expect(says(lane('a', { name: 'A', when: SCHOOL }), lane('rest', { pool: seated('ada', 'bo', 'cy') }))).toEqual([
      'stop lanes.0: Nobody is in “A”. Put somebody in.',
    ])
    expect(says(lane('rest', { name: 'R', pool: seated('gone') }))[0]).toBe('stop lanes.0: Everybody of “R” has left. Put somebody in.')
    expect(says(lane('rest', { name: 'R', pool: seated('tam', 'cy') }))[0]).toContain(
      'Tam may not work with leads, so “R” cannot give them any.',
    )
    expect(
      says(
        lane('a', { name: 'A', when: is('property.colour', 'red'), pool: seated('cy') }),
        lane('rest', { pool: seated('ada', 'bo', 'cy') }),
      ),
    ).toEqual(['stop lanes.0: “A” asks for a property that was removed.'])
  })
  it('hint at a lane that an earlier one shadows, at days without anybody, and at who is in no lane', () => {
    const shadowed = [
      lane('a', { name: 'A', when: is('property.sector', 'school', 'council'), pool: seated('cy', 'ada', 'bo') }),
      lane('b', { name: 'B', when: { all: [SCHOOL, is('property.size', 'large')] }, pool: seated('cy') }),
      lane('rest', { pool: seated('cy') }),
    ]
    expect(says(...shadowed)).toEqual(['hint lanes.1: “B” gets nobody: “A” above takes them all.'])
    // What may go on to the next lane shadows none: who is at work only, who has a limit, whom it may not find.
    for (const more of [{ outside: 'present' }, { pool: seated('max') }, { way: 'firm_owner', pool: [] }] as Partial<Lane>[])
      expect(says({ ...shadowed[0]!, ...more }, ...shadowed.slice(1)).filter(c => c.includes('gets nobody'))).toEqual([])
    expect(says(lane('rest', { name: 'R', pool: seated('ada', 'bo') }))).toEqual([
      'hint lanes.0: Nobody of “R” works on Fridays.',
      'hint : Cy is in no lane.',
    ])
    expect(says(lane('rest', { pool: seated('ada', 'bo', 'cy'), promises: { late: 5 } }))).toEqual([
      'hint lanes.0: “rest” promises something for a label that is gone.',
    ])
  })
  it('says that a condition implies another only where whoever fits the one fits the other', () => {
    const values = fc.uniqueArray(fc.constantFrom('x', 'y', 'z'), { minLength: 1 })
    const test = fc.tuple(fc.constantFrom('property.a', 'property.b'), values).map(([attribute, value]) => is(attribute, ...value))
    const { condition } = fc.letrec<{ condition: Condition }>(tie => ({
      condition: fc.oneof(
        { maxDepth: 2 },
        test,
        fc
          .constantFrom('all', 'any')
          .chain(how => fc.array(tie('condition'), { minLength: 1, maxLength: 3 }).map(parts => ({ [how]: parts }) as Condition)),
      ),
    }))
    const people = ['x', 'y', 'z', null].flatMap(a =>
      ['x', 'y', 'z', null].map(b => ({ 'property.a': a, 'property.b': b }) as Record<string, string | null>),
    )
    let some = 0
    fc.assert(
      fc.property(condition, condition, (one, other) => {
        if (!impliesThat(one, other)) return
        some++
        for (const who of people)
          if (holds(one, name => who[name] ?? undefined)) expect(holds(other, name => who[name] ?? undefined)).toBe(true)
      }),
      { numRuns: 2000 },
    )
    expect(some).toBeGreaterThan(50)
  })
})

describe('what a manager does with a plan', () => {
  it('keeps the last lane the last, whatever is moved, and gives a plan that can be read', () => {
    const keys = fc.constantFrom('rest', 'l1', 'l2', 'l3', 'none')
    const step = fc.oneof(
      keys.map(key => ({ do: 'add', key })),
      keys.map(key => ({ do: 'remove', key })),
      fc.tuple(keys, fc.integer({ min: -3, max: 3 })).map(([key, by]) => ({ do: 'move', key, by })),
      fc.uniqueArray(keys).map(order => ({ do: 'order', order })),
      keys.map(key => ({ do: 'seat', key })),
      keys.map(key => ({ do: 'unseat', key })),
      keys.map(key => ({ do: 'promise', key })),
    )
    fc.assert(
      fc.property(fc.array(step, { maxLength: 20 }), steps => {
        let plan = firstPlan()
        for (const s of steps as { do: string; key: string; by: number; order: string[] }[]) {
          if (s.do === 'add' && !plan.lanes.some(l => l.key === s.key)) plan = addLane(plan, s.key)
          if (s.do === 'remove') plan = removeLane(plan, s.key)
          if (s.do === 'move') plan = moveLane(plan, s.key, s.by)
          if (s.do === 'order') plan = orderLanes(plan, s.order)
          if (s.do === 'seat') plan = setShare(seat(seat(plan, s.key, 'ada'), s.key, 'bo'), s.key, 'bo', 3)
          if (s.do === 'unseat') plan = unseat(plan, s.key, 'ada')
          if (s.do === 'promise') plan = setPromise(setPromise(plan, s.key, 'early', 60), s.key, 'late', null)
        }
        expect(plan.lanes.at(-1)).toMatchObject({ key: 'rest', when: null })
        expect(readPlan(plan).flaws).toEqual([])
      }),
    )
  })
  it('means by a label that was joined the other one, in promises, too', () => {
    const plan = planOf(
      lane('a', { when: { attribute: 'label', is: 'equal', value: 'hot' }, promises: { hot: 5, early: 9 } }),
      lane('rest', { promises: { hot: 7 } }),
    )
    expect(withLabel(plan, 'hot', 'early').lanes.map(l => [l.when, l.promises])).toEqual([
      [{ attribute: 'label', is: 'equal', value: 'early' }, { early: 9 }],
      [null, { early: 7 }],
    ])
  })
})

describe('a day’s hours as they are typed', () => {
  it.each([
    [
      '8-12, 13:30-18',
      [
        [480, 720],
        [810, 1080],
      ],
    ],
    ['8–18', [[480, 1080]]],
    [
      '13-18; 8-12',
      [
        [480, 720],
        [780, 1080],
      ],
    ],
    ['0-24', [[0, 1440]]],
    ['', []],
    [' 8:05 to 9.15 ', [[485, 555]]],
  ])('%s', (typed, spans) => expect(readDay(typed)?.map(s => [s.from, s.until])).toEqual(spans))
  it.each(['8', '18-8', '8-25', '8-12, 11-14', '8-12, 12-14', 'all day', '8:75-9', '-', '8-9, 9:30-10, 10:30-11, 11:30-12, 12:30-13'])(
    'not “%s”',
    typed => expect(readDay(typed)).toBeNull(),
  )
  it('are read again as they are shown', () => {
    const minutes = fc.uniqueArray(fc.integer({ min: 0, max: 1440 }), { maxLength: 8 }).map(all => all.sort((a, b) => a - b))
    fc.assert(
      fc.property(minutes, all => {
        const spans = Array.from({ length: Math.floor(all.length / 2) }, (_, i) => ({ from: all[2 * i]!, until: all[2 * i + 1]! }))
        expect(readDay(dayInWords(spans))).toEqual(spans)
        expect(weekFlaw([spans, [], [], [], [], [], []])).toBeNull()
      }),
    )
  })
})
