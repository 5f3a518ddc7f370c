import type { LeadState } from '#core/leads/lead'

/** What an act of a person may change of a lead and can be taken back; what belongs together goes back together. */
const TOGETHER = {
  status: ['status', 'statusAt', 'followUp.outcome', 'followUp.wakeAt'],
  owner: ['ownerId', 'lane', 'routeAt', 'followUp.accept'],
  next_step: ['nextStep', 'nextStepAt', 'followUp.step'],
  waiting: ['waitingSince'],
  tries: ['followUp.tries'],
  tags: ['tags'],
  label: ['labelFloor', 'labelHeld'],
  counted: ['counted'],
} as const
export type Part = keyof typeof TOGETHER
const PARTS = Object.keys(TOGETHER) as Part[]

/** Of each part that an act changed, what it was and what it became. */
export type Undo = Partial<Record<Part, { was: unknown[]; now: unknown[] }>>
/** How a lead stood before an act. */
export type Snapshot = ReadonlyMap<Part, unknown[]>
type State = Pick<LeadState, 'followUp' | 'counted' | 'tags'>

/** What is kept as JSON comes back with its fields in another order. */
const canonical = (value: unknown): string =>
  JSON.stringify(value ?? null, (_, v: unknown) =>
    v && typeof v === 'object' && !Array.isArray(v) ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1))) : v,
  )
const equal = (a: unknown, b: unknown) => canonical(a) === canonical(b)

function fieldOf(lead: State, path: string): unknown {
  const [field, inner] = path.split('.') as [string, string?]
  const value = (lead as unknown as Record<string, unknown>)[field]
  return structuredClone((inner ? (value as Record<string, unknown>)[inner] : value) ?? null)
}
function setField(lead: State, path: string, value: unknown): void {
  const [field, inner] = path.split('.') as [string, string?]
  if (!inner) return void Object.assign(lead, { [field]: value })
  const { [inner]: _, ...rest } = lead.followUp as Record<string, unknown>
  lead.followUp = value === null ? rest : { ...rest, [inner]: value }
}
const partOf = (lead: State, part: Part): unknown[] => TOGETHER[part].map(path => fieldOf(lead, path))

export const snapshotOf = (lead: State): Snapshot => new Map(PARTS.map(part => [part, partOf(lead, part)]))

/** What an act changed; null: nothing that can be taken back. */
export function changedSince(before: Snapshot, lead: State): Undo | null {
  const changed = PARTS.flatMap(part => {
    const [was, now] = [before.get(part)!, partOf(lead, part)]
    return equal(was, now) ? [] : [[part, { was, now }] as const]
  })
  return changed.length ? Object.fromEntries(changed) : null
}

/**
 * Takes an act back, as far as what it did still stands; what somebody else did since stays.
 * @returns the parts that went back
 */
export function takeBack(lead: State, undo: Undo): Part[] {
  const back: Part[] = []
  for (const part of PARTS) {
    const change = undo[part]
    if (!change || !equal(partOf(lead, part), change.now)) continue
    // What figures counted goes back with what they counted only.
    if (part === 'counted' && !back.includes('status') && !back.includes('owner')) continue
    TOGETHER[part].forEach((path, i) => setField(lead, path, change.was[i]))
    back.push(part)
  }
  return back
}
