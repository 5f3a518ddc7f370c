import type { Desk, Desks } from '#core/routing/choose'
import type { Colleague } from '#core/routing/colleagues'
import { NO_PLAN, type Lane, type RoutingPlan } from '#core/routing/plan'
import type { Credits } from '#core/routing/turns'
import type { Stage } from '#core/vocabulary'
import type { Role } from '#core/roles'
import { sameHours } from '#core/working-time'

/** People of a lane: `a` has one share, `b3` has three. */
export const seats = (...members: string[]) =>
  members.map(m => ({ member: m.replace(/\d+$/, ''), share: Number(/\d+$/.exec(m)?.[0] ?? 1) }))
export const lane = (key: string, more: Partial<Lane> = {}): Lane => ({
  key,
  name: key,
  when: null,
  way: 'turns',
  pool: [],
  outside: 'anyway',
  speaks: false,
  promises: {},
  onward: false,
  ...more,
})
export const planOf = (...lanes: Lane[]): RoutingPlan => ({ ...NO_PLAN, lanes })
/** Members by their ids, whole, with one share each. */
export const seated = (...members: string[]) => members.map(member => ({ member, share: 1 }))

/** Somebody who is always at work. */
export const colleague = (id: string, more: Partial<Colleague & { role: Role }> = {}) => ({
  id,
  name: id,
  email: `${id}@larkmoss.example`,
  hours: { zone: 'Europe/Paris', week: sameHours([1, 2, 3, 4, 5, 6, 7], 0, 24) },
  mostOpen: null,
  languages: [],
  absences: [],
  role: 'sales' as Role,
  ...more,
})
/** Desks at which several leads are given, one after the other. */
export function desks(more: Partial<Desk> = {}): Desks & { open: Map<string, number> } {
  const lanes = new Map<string, Credits>()
  const open = new Map<string, number>()
  const desk: Desk = {
    credits: key => lanes.get(key) ?? lanes.set(key, new Map()).get(key)!,
    open: member => open.get(member) ?? 0,
    firmOwners: () => [],
    earlierOwners: () => [],
    ...more,
  }
  return { open, of: () => desk, gave: (_, member) => void open.set(member, (open.get(member) ?? 0) + 1) }
}

/** What rules say of the follow-up in a house of few words. */
export const WORK = {
  stages: new Map<string, Stage>([
    ['untouched', 'first'],
    ['in_talks', 'open'],
    ['won', 'won'],
    ['lost', 'lost'],
    ['parked', 'parked'],
  ]),
  targets: new Map<string, number>(),
  wakeStatus: 'in_talks',
  hours: { zone: 'Europe/Paris', week: sameHours([1, 2, 3, 4, 5, 6, 7], 0, 24) },
}
