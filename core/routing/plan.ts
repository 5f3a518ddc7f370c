import { readCondition, type Condition } from '#core/conditions/condition'
import { ABOUT_PERSON } from '#core/conditions/askable'
import type { Flaw } from '#core/flaws'

/** The ordered lanes that give a lead an owner. The last one always catches. */
export interface RoutingPlan { version: 1; lanes: Lane[] }
export interface Lane {
  key: string
  name: string
  /** null only on the last lane: it takes whoever is left. */
  when: Condition | null
  /** Member ids, in the order of their turns. */
  pool: string[]
}

/** How many leads each member of a lane's pool has been given in turn. */
export type Turns = Map<string, number>

/**
 * The first lane whose condition holds and in whose pool somebody is there; whose turn it is in it, is `whoseTurn`'s to say.
 * @param present whether a member takes leads now
 * @returns null when nobody at all is there
 */
export const laneFor = (plan: RoutingPlan, holds: (condition: Condition) => boolean, present: (member: string) => boolean): Lane | null =>
  plan.lanes.find(lane => (!lane.when || holds(lane.when)) && lane.pool.some(present)) ?? null

/** Whose go it is: the one given fewest, the earliest in the pool among equals. */
export function whoseTurn(pool: string[], turns: Turns): string | null {
  let next: string | null = null
  for (const member of pool)
    if (next === null || (turns.get(member) ?? 0) < (turns.get(next) ?? 0)) next = member
  return next
}

/** Reads a plan out of an untrusted value. */
export function readPlan(plain: unknown): { plan: RoutingPlan; flaws: [] } | { plan: null; flaws: Flaw[] } {
  const flaw = (field: string, message: string) => ({ plan: null, flaws: [{ field, message }] })
  const raw = plain as { version?: unknown; lanes?: unknown }
  if (raw?.version !== 1 || !Array.isArray(raw.lanes) || !raw.lanes.length || raw.lanes.length > 100) return flaw('lanes', 'A plan of version 1 has 1 to 100 lanes.')
  const lanes: Lane[] = []
  for (const [i, lane] of raw.lanes.entries()) {
    const last = i === raw.lanes.length - 1
    if (typeof lane?.key !== 'string' || !lane.key || lanes.some(l => l.key === lane.key)) return flaw(`lanes.${i}.key`, 'Each lane needs a key of its own.')
    if (typeof lane.name !== 'string' || !lane.name.trim()) return flaw(`lanes.${i}.name`, 'Each lane needs a name.')
    if (last !== (lane.when == null)) return flaw(`lanes.${i}.when`, 'The last lane, and only that, takes everyone and has no condition.')
    if (!Array.isArray(lane.pool) || !lane.pool.length || !lane.pool.every((m: unknown) => typeof m === 'string')) return flaw(`lanes.${i}.pool`, 'Each lane needs at least one person.')
    try {
      lanes.push({ key: lane.key, name: lane.name, when: lane.when == null ? null : readCondition(lane.when, `lanes.${i}.when`, ABOUT_PERSON), pool: [...new Set<string>(lane.pool)] })
    } catch (error) {
      return flaw(`lanes.${i}.when`, `${(error as Error).message}.`)
    }
  }
  return { plan: { version: 1, lanes }, flaws: [] }
}
