import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holds, type Condition } from '#core/conditions/condition'
import { readPlan, type RoutingPlan } from '#core/routing/plan'
import { laneFor, whoseTurn, type Turns } from '#core/routing/turns'

const plan: RoutingPlan = { version: 1, lanes: [{ key: 'schools', name: 'Schools', when: { attribute: 'property.sector', is: 'equal', value: 'school' }, pool: ['a', 'b'] }, { key: 'rest', name: 'Rest', when: null, pool: ['b', 'c', 'a'] }] }
const batch = () => {
  const lanes = new Map<string, Turns>()
  return (lane: string) => lanes.get(lane) ?? lanes.set(lane, new Map()).get(lane)!
}
/** A lead on its way: its lane, and whose turn it is in it. */
function routeTo(of: RoutingPlan, judge: (when: Condition) => boolean, present: (member: string) => boolean, turns: (lane: string) => Turns) {
  const lane = laneFor(of, judge, present)
  const member = lane && whoseTurn(lane.pool.filter(present), turns(lane.key))
  if (!lane || !member) return null
  turns(lane.key).set(member, (turns(lane.key).get(member) ?? 0) + 1)
  return { lane, member }
}
const from = (sector: string) => (when: Condition) => holds(when, name => name === 'property.sector' ? sector : undefined)

describe('routing', () => {
  it('takes the first lane that fits, and the last for whoever is left', () => {
    const turns = batch()
    expect(routeTo(plan, from('school'), () => true, turns)?.lane.key).toBe('schools')
    expect(routeTo(plan, from('vineyard'), () => true, turns)).toMatchObject({ lane: { key: 'rest' }, member: 'b' })
  })
  it('goes on to the next lane when nobody of a pool is there, and to nobody when nobody is', () => {
    expect(routeTo(plan, from('school'), m => m === 'c', batch())).toMatchObject({ lane: { key: 'rest' }, member: 'c' })
    expect(routeTo(plan, from('school'), () => false, batch())).toBeNull()
  })
  it('stays fair: whoever comes, turns in a lane never differ by more than one', () => {
    fc.assert(fc.property(fc.array(fc.constantFrom('school', 'inn')), (came) => {
      const turns = batch()
      came.forEach(sector => routeTo(plan, from(sector), () => true, turns))
      for (const lane of plan.lanes) {
        const given = lane.pool.map(m => turns(lane.key).get(m) ?? 0)
        expect(Math.max(...given) - Math.min(...given)).toBeLessThanOrEqual(1)
      }
    }))
  })
  it('gives the turn to the earliest in the pool among equals', () => {
    expect(whoseTurn(['x', 'y'], new Map())).toBe('x')
    expect(whoseTurn(['x', 'y'], new Map([['x', 1]]))).toBe('y')
    expect(whoseTurn([], new Map())).toBeNull()
  })
  it('reads only plans whose last lane, and no other, takes everybody', () => {
    expect(readPlan(plan).plan).toEqual(plan)
    expect(readPlan({ ...plan, lanes: [...plan.lanes].reverse() }).flaws[0]?.field).toBe('lanes.0.when')
    expect(readPlan({ ...plan, lanes: [plan.lanes[1], plan.lanes[1]] }).plan).toBeNull()
    expect(readPlan({ version: 1, lanes: [] }).plan).toBeNull()
    expect(readPlan(undefined).plan).toBeNull()
  })
})
