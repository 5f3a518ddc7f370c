import { LOW_STEPS, type LowStep } from '#core/follow-up/state'
import type { RoutingPlan } from '#core/routing/plan'
import { afterWorking, type WorkingHours } from '#core/working-time'

/** What a promise depends on. */
export interface Promises {
  plan: RoutingPlan
  /** What each label promises, in working minutes. */
  targets: ReadonlyMap<string, number>
}
/** Who has no label is promised no more than this at most. */
const PATIENT = 480

/** Within how many working minutes a lead of a label and a lane is to be answered. Who has no label waits by the most patient promise. */
export function promised({ plan, targets }: Promises, label: string | null, lane: string | null): number {
  const own = label === null ? undefined : plan.lanes.find(l => l.key === lane)?.promises[label]
  return own ?? (label === null ? undefined : targets.get(label)) ?? Math.max(PATIENT, ...targets.values())
}

/**
 * When the next step of a running promise is taken.
 * @param since when they began to wait, milliseconds since 1970
 * @param taken how many steps were taken before
 * @returns null when there is none, or nobody works that long
 */
export function nextLow(
  plan: RoutingPlan,
  minutes: number,
  since: number,
  taken: number,
  hours: WorkingHours,
): { step: LowStep; at: number } | null {
  const step = LOW_STEPS[taken]
  if (!step || !plan.low) return null
  const at = afterWorking(since, (minutes * plan.low[step]) / 100, hours)
  return at === null ? null : { step, at }
}
