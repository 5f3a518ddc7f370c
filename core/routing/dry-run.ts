import type { Condition } from '#core/conditions/condition'
import { choose, lanesFor, type Desk } from '#core/routing/choose'
import type { Colleague } from '#core/routing/colleagues'
import type { RoutingPlan } from '#core/routing/plan'
import type { Credits } from '#core/routing/turns'
import { workingMinutes, type WorkingHours } from '#core/working-time'

/** A lead as it came, for a plan that it is sent through. Times in milliseconds since 1970. */
export interface PastLead {
  id: string
  at: number
  language: string | null
  label: string | null
  /** The same for leads of the same firm; null: none is known. */
  firm: string | null
  /** When it was closed; null: it is open still. */
  closedAt: number | null
  /** Who owned it before it came this time, the latest first. */
  earlier: string[]
  holds: (condition: Condition) => boolean
}

/** What is taken for granted in a run. */
export interface Assumed {
  people: ReadonlyMap<string, Colleague>
  /** Working minutes within which each answered what they were given, in the past; of who has answered too few, everybody's. */
  paces: ReadonlyMap<string | null, readonly number[]>
  /** Everybody is so many times as fast as they were; 1: as fast. */
  speed: number
  /** Open leads that each had when the time began, and who owned others of a firm by then, the latest first. */
  open: ReadonlyMap<string, number>
  firms: ReadonlyMap<string, readonly string[]>
  promised: (label: string | null, lane: string | null) => number
  hours: WorkingHours
}

/** What came of a lead. */
export interface Gave {
  lead: string
  /** null: nobody got it. */
  member: string | null
  lane: string | null
  came: number
  /** When somebody got it. */
  at: number
  /** They had as many open leads as they take on already, or more. */
  over: boolean
  /** How likely the promise would have been kept; null of who nobody got. */
  kept: number | null
}

/** Of fewer answers somebody's pace is everybody's. */
export const FEWEST_ANSWERS = 8
/** A lead for whom there is nobody is asked for again after so long, so many times. */
const [AGAIN_MS, AGAIN] = [3_600_000, 48]

/** The share of answers that take no longer than some working minutes. @param sorted rising */
export function shareWithin(sorted: readonly number[], minutes: number): number {
  if (!sorted.length) return minutes > 0 ? 1 : 0
  let [low, high] = [0, sorted.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (sorted[middle]! <= minutes) low = middle + 1
    else high = middle
  }
  return low / sorted.length
}

/** What is due next: whoever came first, or waits until then. */
interface Turn {
  at: number
  lead: PastLead
  asked: number
}

/** A run of a plan, piece by piece: whoever works on one may do something else in between. */
export interface PlanRunner {
  /** @param leads those that came next, as they came */
  send: (leads: readonly PastLead[]) => void
  /** What came of all of them, once nobody comes any more. */
  end: () => Gave[]
}

/**
 * Sends leads through a plan as they came, with the real hours, days off and absences: turns begin level, loads as they were; who was
 * closed at some time frees a place then. A promise is kept by the share of past answers that were quick enough for what is left of
 * it when somebody gets the lead. Nothing of chance: the same leads give the same, in whichever pieces they are sent.
 */
export function runPlan(plan: RoutingPlan, assumed: Assumed): PlanRunner {
  const { people } = assumed
  const credits = new Map<string, Credits>()
  const open = new Map(assumed.open)
  const firms = new Map([...assumed.firms].map(([firm, owners]) => [firm, [...owners]]))
  const closing: { at: number; member: string }[] = []
  const waiting: Turn[] = []
  const gave: Gave[] = []
  const add = (member: string, n: number) => open.set(member, (open.get(member) ?? 0) + n)
  const laneOf = (key: string) => credits.get(key) ?? credits.set(key, new Map()).get(key)!

  function turn({ at, lead, asked }: Turn): void {
    while (closing.length && closing[0]!.at <= at) add(pop(closing).member, -1)
    const lanes = lanesFor(plan, lead.holds, people, at, lead.language)
    const desk: Desk = {
      credits: laneOf,
      open: member => open.get(member) ?? 0,
      firmOwners: () => (lead.firm === null ? [] : (firms.get(lead.firm) ?? [])),
      earlierOwners: () => lead.earlier,
    }
    const choice = choose(lanes, people, desk, at, lead.language)
    if (choice && 'member' in choice) return give(lead, choice.lane.key, choice.member, at)
    if (choice) return push(waiting, { at: Math.max(choice.waits, at + 60_000), lead, asked })
    if (asked < AGAIN) return push(waiting, { at: at + AGAIN_MS, lead, asked: asked + 1 })
    gave.push({ lead: lead.id, member: null, lane: null, came: lead.at, at, over: false, kept: null })
  }
  function give(lead: PastLead, lane: string, member: string, at: number): void {
    const who = people.get(member)!
    const has = open.get(member) ?? 0
    const left = assumed.promised(lead.label, lane) - workingMinutes(lead.at, at, who.hours)
    const own = assumed.paces.get(member)
    const pace = own && own.length >= FEWEST_ANSWERS ? own : (assumed.paces.get(null) ?? [])
    gave.push({
      lead: lead.id,
      member,
      lane,
      came: lead.at,
      at,
      over: who.mostOpen !== null && has >= who.mostOpen,
      kept: shareWithin(pace, left * assumed.speed),
    })
    add(member, 1)
    if (lead.firm !== null) firms.set(lead.firm, [member, ...(firms.get(lead.firm) ?? []).filter(m => m !== member)].slice(0, 5))
    if (lead.closedAt !== null && lead.closedAt > at) push(closing, { at: lead.closedAt, member })
    else if (lead.closedAt !== null) add(member, -1)
  }
  return {
    send(leads) {
      for (const lead of leads) {
        while (waiting.length && waiting[0]!.at <= lead.at) turn(pop(waiting))
        turn({ at: lead.at, lead, asked: 0 })
      }
    },
    end() {
      while (waiting.length) turn(pop(waiting))
      return gave
    },
  }
}

// A heap by time, the soonest first: thousands may wait for a morning.
function push<T extends { at: number }>(heap: T[], item: T): void {
  let i = heap.push(item) - 1
  for (let up = (i - 1) >> 1; i > 0 && heap[up]!.at > heap[i]!.at; i = up, up = (i - 1) >> 1) [heap[i], heap[up]] = [heap[up]!, heap[i]!]
}
function pop<T extends { at: number }>(heap: T[]): T {
  const first = heap[0]!
  const last = heap.pop()!
  if (heap.length) heap[0] = last
  for (let i = 0; ;) {
    const [left, right] = [2 * i + 1, 2 * i + 2]
    let least = i
    if (left < heap.length && heap[left]!.at < heap[least]!.at) least = left
    if (right < heap.length && heap[right]!.at < heap[least]!.at) least = right
    if (least === i) return first
    ;[heap[i], heap[least]] = [heap[least]!, heap[i]!]
    i = least
  }
}

export interface PersonRun {
  member: string
  leads: number
  days: Record<string, number>
  most: number
  over: number
  kept: number
}
export interface LaneRun {
  lane: string
  name: string
  leads: number
  kept: number
}
/** A run summed up. Counts are of leads; `kept` is how many promises would be expected to be kept. */
export interface PlanRunSums {
  leads: number
  kept: number
  nobody: number
  /** Who did not get somebody at once, and for how long they waited at most, in hours. */
  waited: { leads: number; longest: number; median: number }
  people: PersonRun[]
  lanes: LaneRun[]
}

/** @param dayOf the day of the calendar that a moment lies in, where the house is */
export function sumsOf(plan: RoutingPlan, gave: readonly Gave[], members: readonly string[], dayOf: (at: number) => string): PlanRunSums {
  const got = gave.filter(g => g.member !== null)
  const kept = (some: readonly Gave[]) => some.reduce((n, g) => n + (g.kept ?? 0), 0)
  const late = got
    .filter(isLate)
    .map(g => (g.at - g.came) / 3_600_000)
    .sort((a, b) => a - b)
  return {
    leads: gave.length,
    kept: kept(got),
    nobody: gave.length - got.length,
    waited: { leads: late.length, longest: late.at(-1) ?? 0, median: late[late.length >> 1] ?? 0 },
    people: members.map(member => {
      const own = got.filter(g => g.member === member)
      const days: Record<string, number> = {}
      for (const g of own) days[dayOf(g.at)] = (days[dayOf(g.at)] ?? 0) + 1
      return {
        member,
        leads: own.length,
        days,
        most: Math.max(0, ...Object.values(days)),
        over: own.filter(g => g.over).length,
        kept: kept(own),
      }
    }),
    lanes: plan.lanes.map(({ key, name }) => {
      const own = got.filter(g => g.lane === key)
      return { lane: key, name, leads: own.length, kept: kept(own) }
    }),
  }
}
/** Somebody was there only later. */
export const isLate = (g: Pick<Gave, 'came' | 'at'>): boolean => g.at - g.came > 60_000
