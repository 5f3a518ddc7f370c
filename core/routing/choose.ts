import type { Condition } from '#core/conditions/condition'
import { isAway, isThere, isThereToday, lookedAfterBy, nextThere, type Colleague, type Colleagues } from '#core/routing/colleagues'
import { FINDS, type Lane, type Outside, type RoutingPlan, type Seat } from '#core/routing/plan'
import { take, whoseTurn, type Credits } from '#core/routing/turns'

/** What is looked up for a lead while nobody else may give one: behind the lanes' locks. */
export interface Desk {
  /** What the people of a lane are owed. */
  credits: (lane: string) => Credits
  /** How many open leads somebody has. */
  open: (member: string) => number
  /** Who owns others of the lead's firm, the latest first. */
  firmOwners: () => string[]
  /** Who owned the lead before, the latest first. */
  earlierOwners: () => string[]
}

/** Desks for the leads of a batch. */
export interface Desks {
  of: (lead: string) => Desk
  /** A lead was given. */
  gave: (lane: string, member: string) => void
}

/** What comes of a plan for a lead: somebody gets it, it waits for a lane until a moment, or there is nobody. */
export type Choice =
  | { lane: Lane; member: string; /** The one whose place they take, where they stand in for somebody. */ standsInFor?: string }
  | { lane: Lane; waits: number }
  | null

const all = (lane: Lane, people: Colleagues): { seat: Seat; who: Colleague }[] =>
  lane.pool.flatMap(seat => {
    const who = people.get(seat.member)
    return who ? [{ seat, who }] : []
  })

/**
 * Those of a lane who may get a lead at a moment, as far as their hours say; of a lane all of whose people are away, who stands in
 * for them. With nobody, when the first of them is there again (a lane that waits), or null.
 * @param language in which they wrote; null: it is not known
 */
export function those(lane: Lane, people: Colleagues, at: number, language: string | null): { seats: Seat[]; from: number | null } {
  const seated = all(lane, people)
  const spoken = lane.speaks && language !== null ? seated.filter(s => s.who.languages.includes(language)) : seated
  const able = spoken.length ? spoken : seated
  let there = able.filter(s => !isAway(s.who, at))
  if (!there.length) {
    const standIns = able.flatMap(({ seat, who }) => {
      const standIn = lookedAfterBy(people, who.id, at)
      return standIn ? [{ seat: { member: standIn.id, share: seat.share }, who: standIn }] : []
    })
    there = standIns.filter((s, i) => standIns.findIndex(o => o.who.id === s.who.id) === i)
  }
  const seats = there.filter(s => takes(lane.outside, s.who, there, at)).map(s => s.seat)
  if (seats.length || lane.outside !== 'waits') return { seats, from: null }
  const next = [...able, ...there].flatMap(s => nextThere(s.who, at) ?? [])
  return { seats, from: next.length ? Math.min(...next) : null }
}

function takes(outside: Outside, who: Colleague, others: { who: Colleague }[], at: number): boolean {
  if (outside === 'anyway') return true
  if (outside === 'present') return isThere(who, at)
  // Once somebody is there all share who come that day: whoever begins first does not get the whole night's.
  return others.some(o => isThere(o.who, at)) && isThereToday(who, at)
}

/**
 * The lanes that may give a lead somebody, in their order, up to the first that surely does or waits: these are locked, and then
 * one is chosen (`choose`).
 * @param holds whether a condition holds of the lead
 */
export function lanesFor(
  plan: RoutingPlan,
  holds: (condition: Condition) => boolean,
  people: Colleagues,
  at: number,
  language: string | null,
): Lane[] {
  const lanes: Lane[] = []
  for (const lane of plan.lanes) {
    if (lane.when && !holds(lane.when)) continue
    if (FINDS.has(lane.way)) {
      lanes.push(lane)
      continue
    }
    const { seats, from } = those(lane, people, at, language)
    if (!seats.length && from === null) continue
    lanes.push(lane)
    if (from !== null || seats.some(s => people.get(s.member)!.mostOpen === null)) break
  }
  return lanes
}

/** Gives a lead to somebody of its lanes, and counts it. What it is given by is in the desk, and locked. */
export function choose(lanes: readonly Lane[], people: Colleagues, desk: Desk, at: number, language: string | null): Choice {
  for (const lane of lanes) {
    const choice = FINDS.has(lane.way) ? found(lane, people, desk, at) : ofPool(lane, people, desk, at, language)
    if (choice) return choice
  }
  return null
}

const hasRoom = (who: Colleague, desk: Desk): boolean => who.mostOpen === null || desk.open(who.id) < who.mostOpen

/** The one whom the lane knows by the lead itself. */
function found(lane: Lane, people: Colleagues, desk: Desk, at: number): Choice {
  for (const id of lane.way === 'firm_owner' ? desk.firmOwners() : desk.earlierOwners()) {
    const who = lookedAfterBy(people, id, at)
    if (!who || !hasRoom(who, desk)) continue
    const standsInFor = who.id === id ? {} : { standsInFor: id }
    if (lane.outside === 'anyway' || isThere(who, at)) return { lane, member: who.id, ...standsInFor }
    const from = lane.outside === 'waits' ? nextThere(who, at) : null
    if (from !== null) return { lane, waits: from }
  }
  return null
}

function ofPool(lane: Lane, people: Colleagues, desk: Desk, at: number, language: string | null): Choice {
  const { seats, from } = those(lane, people, at, language)
  if (from !== null) return { lane, waits: from }
  const able = seats.filter(s => hasRoom(people.get(s.member)!, desk))
  const member = lane.way === 'least_open' ? leastOpen(able, desk) : whoseTurn(able, desk.credits(lane.key))
  if (member === null) return null
  if (lane.way === 'turns') take(able, desk.credits(lane.key), member)
  if (lane.pool.some(s => s.member === member)) return { lane, member }
  const away = lane.pool.find(s => people.has(s.member) && lookedAfterBy(people, s.member, at)?.id === member)
  return { lane, member, ...(away && { standsInFor: away.member }) }
}

/** Who has least open work for their share; the earlier one of the pool among equals. */
function leastOpen(seats: readonly Seat[], desk: Desk): string | null {
  let [least, member] = [Infinity, null as string | null]
  for (const seat of seats) {
    const load = (desk.open(seat.member) + 1) / seat.share
    if (load < least) [least, member] = [load, seat.member]
  }
  return member
}
