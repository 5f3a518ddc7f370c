import type { Condition } from '#core/conditions/condition'
import type { Lane, RoutingPlan } from '#core/routing/plan'

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
