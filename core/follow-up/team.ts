import type { RoutingPlan } from '#core/routing/plan'
import { workingMinutes, type WorkingHours } from '#core/working-time'

/** How a promise was kept: who had it, by which lane it came, and how much of it was used. */
export interface Kept {
  lead: string
  owner: string | null
  lane: string | null
  /** The share of the promise that was used when they were answered, or until now; 1 is all of it. */
  share: number
  answered: boolean
}

export interface Answer {
  lead: string
  owner: string | null
  lane: string | null
  label: string | null
  since: number
  /** When they were answered; null: they wait still. */
  at: number | null
}

/**
 * Which promises of some time were kept. Who waits still counts only once their promise is over: before that it is neither.
 * @param promised working minutes, by label and lane
 * @param hoursOf by which hours the clock of an owner runs
 */
export function keptOf(
  answers: Answer[],
  promised: (label: string | null, lane: string | null) => number,
  hoursOf: (owner: string | null) => WorkingHours,
  now: number,
): Kept[] {
  return answers.flatMap(({ lead, owner, lane, label, since, at }) => {
    const share = workingMinutes(since, at ?? now, hoursOf(owner)) / promised(label, lane)
    return at === null && share < 1 ? [] : [{ lead, owner, lane, share, answered: at !== null }]
  })
}
export const isKept = (k: Kept): boolean => k.answered && k.share <= 1

/** Somebody of the team, as who manages sees them this morning. */
export interface Load {
  member: string
  open: number
  mostOpen: number | null
  waiting: string[]
  overdue: string[]
  /** Next steps that are late. */
  late: string[]
  kept: number
  promises: number
}
export interface LaneLoad {
  lane: string | null
  name: string
  waiting: string[]
  overdue: string[]
  kept: number
  promises: number
}

export interface Waiting {
  lead: string
  owner: string | null
  lane: string | null
  isOverdue: boolean
}

/** Sums up by person and by lane. @param late leads whose next step is late, with their owners */
export function loadsBy(
  { plan, members }: { plan: RoutingPlan; members: { id: string; open: number; mostOpen: number | null }[] },
  waiting: Waiting[],
  late: { lead: string; owner: string | null }[],
  kept: Kept[],
): { people: Load[]; lanes: LaneLoad[] } {
  const rate = (of: Kept[]) => ({ kept: of.filter(isKept).length, promises: of.length })
  const people = members.map(({ id, open, mostOpen }) => ({
    member: id,
    open,
    mostOpen,
    waiting: waiting.filter(w => w.owner === id).map(w => w.lead),
    overdue: waiting.filter(w => w.owner === id && w.isOverdue).map(w => w.lead),
    late: late.filter(l => l.owner === id).map(l => l.lead),
    ...rate(kept.filter(k => k.owner === id)),
  }))
  const known = new Set(plan.lanes.map(l => l.key))
  const of = (lane: string | null) => (lane !== null && known.has(lane) ? lane : null)
  const lanes = [
    ...plan.lanes.map(l => ({ lane: l.key as string | null, name: l.name })),
    { lane: null, name: 'No lane: given by hand, by a form, or in an earlier plan' },
  ].map(({ lane, name }) => ({
    lane,
    name,
    waiting: waiting.filter(w => of(w.lane) === lane).map(w => w.lead),
    overdue: waiting.filter(w => of(w.lane) === lane && w.isOverdue).map(w => w.lead),
    ...rate(kept.filter(k => of(k.lane) === lane)),
  }))
  return { people, lanes: lanes.filter(l => l.lane !== null || l.waiting.length || l.promises) }
}
