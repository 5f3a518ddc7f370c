import { NO_PLAN, type Lane, type RoutingPlan, type Seat } from '#core/routing/plan'

// What a manager does with a plan. Each gives another plan.

const withLane = (plan: RoutingPlan, key: string, change: (lane: Lane) => Lane): RoutingPlan => ({
  ...plan,
  lanes: plan.lanes.map(l => (l.key === key ? change(l) : l)),
})

/** A lane that is new: it fits everybody it is asked about, and nobody is in it yet. */
const newLane = (key: string, when: Lane['when']): Lane => ({
  key,
  name: when === null ? 'Everyone else' : 'A new lane',
  when,
  way: 'turns',
  pool: [],
  outside: 'anyway',
  speaks: false,
  promises: {},
  onward: false,
})

/** A plan to begin with: one lane for everybody. */
export const firstPlan = (): RoutingPlan => ({ ...NO_PLAN, lanes: [newLane('rest', null)] })

/** A new lane above the last, which catches whoever is left. Keys are not used twice: turns are kept by them. @param key one that no lane ever had */
export const addLane = (plan: RoutingPlan, key: string): RoutingPlan => ({
  ...plan,
  lanes: plan.lanes.toSpliced(-1, 0, newLane(key, { all: [] })),
})
export const changeLane = (plan: RoutingPlan, key: string, change: Partial<Omit<Lane, 'key'>>): RoutingPlan =>
  withLane(plan, key, lane => ({ ...lane, ...change }))
/** Takes a lane out. The last one stays. */
export const removeLane = (plan: RoutingPlan, key: string): RoutingPlan => ({
  ...plan,
  lanes: plan.lanes.filter((l, i, all) => l.key !== key || i === all.length - 1),
})

/** Puts lanes in another order; the last one, which catches everybody, stays the last. */
export function orderLanes(plan: RoutingPlan, keys: string[]): RoutingPlan {
  const last = plan.lanes.at(-1)!
  const moved = keys.filter(key => key !== last.key).flatMap(key => plan.lanes.find(l => l.key === key) ?? [])
  return moved.length === plan.lanes.length - 1 ? { ...plan, lanes: [...moved, last] } : plan
}
/** Moves a lane by so many places, as far as there are any above the last. */
export function moveLane(plan: RoutingPlan, key: string, by: number): RoutingPlan {
  const keys = plan.lanes.map(l => l.key)
  const at = keys.indexOf(key)
  if (at < 0 || at === keys.length - 1) return plan
  const to = Math.min(keys.length - 2, Math.max(0, at + by))
  return orderLanes(plan, keys.toSpliced(at, 1).toSpliced(to, 0, key))
}

/** Puts somebody in a lane, at its end, with one share. */
export const seat = (plan: RoutingPlan, key: string, member: string): RoutingPlan =>
  withLane(plan, key, lane => (lane.pool.some(s => s.member === member) ? lane : { ...lane, pool: [...lane.pool, { member, share: 1 }] }))
export const unseat = (plan: RoutingPlan, key: string, member: string): RoutingPlan =>
  withLane(plan, key, lane => ({ ...lane, pool: lane.pool.filter(s => s.member !== member) }))
export const setShare = (plan: RoutingPlan, key: string, member: string, share: number): RoutingPlan =>
  withLane(plan, key, lane => ({ ...lane, pool: lane.pool.map((s): Seat => (s.member === member ? { ...s, share } : s)) }))
/** What a lane promises people with a label, in working minutes; null: what the label promises. */
export const setPromise = (plan: RoutingPlan, key: string, label: string, minutes: number | null): RoutingPlan =>
  withLane(plan, key, lane => ({
    ...lane,
    promises: {
      ...Object.fromEntries(Object.entries(lane.promises).filter(([l]) => l !== label)),
      ...(minutes !== null && { [label]: minutes }),
    },
  }))
