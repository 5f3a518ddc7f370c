import type { Changes } from '#core/events/registry'

/** What somebody passes on their way, each at most once at a moment: an entry, an owner, the first status behind them, an end, a win that still stands. */
export const PASSAGES = ['entry', 'owner', 'worked', 'closed', 'won'] as const
export type Passage = (typeof PASSAGES)[number]

/** What figures have to know of a lead beside how it stands. */
export interface Counted {
  /** The point of the first entry, by its key, and where they came from. */
  first?: [point: string, source: string]
  /** A label that counts as qualified held at some time. */
  qualified?: true
  /** When they passed last, in milliseconds since 1970. */
  last?: Partial<Record<Passage, number>>
}

/** How figures count a lead. What does not hold is left out. */
export interface Facets extends Counted {
  label?: string
  owner?: string
  status: string
  waiting?: true
  submitted?: true
  /** Milliseconds since 1970. */
  created: number
}

/** What passages and labels mean, by the house's words. */
export interface Counting {
  /** The stage of each status, by its key. */
  stages: ReadonlyMap<string, string>
  /** The labels that count as qualified. */
  qualified: ReadonlySet<string>
}

interface Standing {
  label: string | null
  ownerId: string | null
  status: string
  waitingSince: number | null
  submittedAt: number | null
  createdAt: number
  counted: Counted
}

/** How a lead is counted as it stands. */
export const facetsOf = (lead: Standing): Facets => ({
  ...(lead.label !== null && { label: lead.label }),
  ...(lead.ownerId !== null && { owner: lead.ownerId }),
  status: lead.status,
  ...(lead.waitingSince !== null && { waiting: true }),
  ...(lead.submittedAt !== null && { submitted: true }),
  created: lead.createdAt,
  ...lead.counted,
})

/** What figures have to know of a lead after some changes at a moment. */
export function countedAfter(
  before: Counted,
  { entry, owner, status, label }: Changes,
  at: number,
  { stages, qualified }: Counting,
): Counted {
  const passed: Passage[] = []
  if (entry) passed.push('entry')
  if (owner) passed.push('owner')
  if (status) {
    const [from, to] = [stages.get(status.from), stages.get(status.to)]
    if (from === 'first') passed.push('worked')
    if (to === 'won' || to === 'lost') passed.push('closed')
    if (to === 'won') passed.push('won')
  }
  const nowQualified = label?.to !== null && label?.to !== undefined && qualified.has(label.to)
  // Who counts as won is won: a win that was taken back, or did not last, is none.
  const lostAgain = status !== undefined && before.last?.won !== undefined && stages.get(status.to) !== 'won'
  if (!passed.length && !lostAgain && (!nowQualified || before.qualified)) return before
  const { won, ...others } = before.last ?? {}
  const last: NonNullable<Counted['last']> = { ...others, ...(won !== undefined && !lostAgain && { won }) }
  // What is told late, of an archive or after a review, is no later for that.
  for (const passage of passed) last[passage] = Math.max(at, last[passage] ?? -Infinity)
  return { ...before, ...(nowQualified && { qualified: true }), ...(Object.keys(last).length && { last }) }
}

/** What figures have to know of two leads that are one: where they came from first, and what they passed last. */
export function mergedCounts(a: Pick<Standing, 'counted' | 'createdAt'>, b: Pick<Standing, 'counted' | 'createdAt'>): Counted {
  const [earlier, later] = a.createdAt <= b.createdAt ? [a.counted, b.counted] : [b.counted, a.counted]
  const first = earlier.first ?? later.first
  const passed = PASSAGES.flatMap(passage => {
    const moments = [a.counted.last?.[passage], b.counted.last?.[passage]].filter(at => at !== undefined)
    return moments.length ? [[passage, Math.max(...moments)] as const] : []
  })
  return {
    ...(first && { first }),
    ...((a.counted.qualified || b.counted.qualified) && { qualified: true as const }),
    ...(passed.length && { last: Object.fromEntries(passed) }),
  }
}

/** Where somebody came from by what an entry says: the campaign's source, else the site that led here, else nowhere. */
export const sourceOf = (utm: Record<string, string>, referrer: string | null): string =>
  utm.source ?? /^https?:\/\/(?:www\.)?([^/:?#]+)/.exec(referrer ?? '')?.[1] ?? 'direct'
