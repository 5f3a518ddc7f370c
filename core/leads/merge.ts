import { mergedCounts, type Counted } from '#core/figures/facets'
import { same } from '#core/leads/fill-property'
import { propertyOf, setProperty, clearProperty, type LeadState } from '#core/leads/lead'
import type { PropertyValue } from '#core/properties/kinds'
import { decayed, EARLIER, type ReasonLine } from '#core/scoring/lines'
import { mergedLines, repriced, SMALL } from '#core/scoring/score'
import type { Scorecard } from '#core/scoring/scorecard'

/**
 * Two leads that are one person become one: what only one of them says is kept, where they differ somebody chooses. The one that is
 * kept goes on; of the other stays a copy, out of which it comes back. (Interface: *joined*, and *taken apart*.)
 */

/** What is chosen between beside properties, which go by their keys. */
const CHOICES = ['owner', 'status', 'next_step'] as const
export type Choice = (typeof CHOICES)[number] | (string & {})

const OWN_PROPERTIES = ['email', 'first_name', 'last_name', 'company']
const propertiesOf = (lead: LeadState): string[] => [...OWN_PROPERTIES, ...Object.keys(lead.properties)]

const saidOf = (lead: LeadState, what: Choice): PropertyValue | null => {
  if (what === 'owner') return lead.ownerId
  if (what === 'status') return lead.status
  if (what === 'next_step') return lead.nextStep
  return propertyOf(lead, what)
}

/** Everything that one of two leads says at least, properties first: what each says, null where it says nothing. */
export function sideBySide(
  a: LeadState,
  b: LeadState,
): { what: Choice; values: [PropertyValue | null, PropertyValue | null]; isSame: boolean }[] {
  return [...new Set([...propertiesOf(a), ...propertiesOf(b)]), ...CHOICES].flatMap(what => {
    const values: [PropertyValue | null, PropertyValue | null] = [saidOf(a, what), saidOf(b, what)]
    const [one, other] = values
    return one === null && other === null ? [] : [{ what, values, isSame: one !== null && other !== null && same(one, other) }]
  })
}

/**
 * Which of two leads had better stay: who was worked further, has shown that the address is theirs, sent something, was there first.
 * @param rank of a status, the higher the further the follow-up has come
 */
export function staysBetter(a: LeadState, b: LeadState, rank: (status: string) => number): 0 | 1 {
  const marks = (l: LeadState) => [rank(l.status), Number(l.confirmedAt !== null), Number(l.submittedAt !== null), -l.createdAt]
  const [one, other] = [marks(a), marks(b)]
  const at = one.findIndex((mark, i) => mark !== other[i])
  return at < 0 || one[at]! > other[at]! ? 0 : 1
}

const earliest = (a: number | null, b: number | null): number | null => (a === null ? b : b === null ? a : Math.min(a, b))

/** What a merge gave the one that was kept, for whoever tells of it: a thing that it has from the other, and what stood there before. */
export interface Taken {
  what: Choice
  was: PropertyValue | null
  now: PropertyValue
}

/** Without what is not said. */
const filled = <T extends object>(object: T): T =>
  Object.fromEntries(Object.entries(object).filter(([, value]) => value !== undefined)) as T

/**
 * Puts one lead into another, which is changed. Both are waited for by whoever waited first; who left the mails has left them.
 * @param take where both say something, what is taken from the one that goes; else the other's word stands
 * @param labels keys, lowest first
 * @returns what it has from the other
 */
export function mergeInto(lead: LeadState, gone: LeadState, take: ReadonlySet<Choice>, labels: string[]): Taken[] {
  const taken: Taken[] = []
  const takes = (what: Choice): boolean => {
    const [own, other] = [saidOf(lead, what), saidOf(gone, what)]
    if (other === null || (own !== null && (!take.has(what) || same(own, other)))) return false
    taken.push({ what, was: own, now: other })
    return true
  }
  if (takes('email'))
    Object.assign(lead, { email: gone.email, emailKey: gone.emailKey, confirmedAt: gone.confirmedAt, guardedAt: gone.guardedAt })
  for (const property of propertiesOf(gone))
    if (property !== 'email' && takes(property)) setProperty(lead, property, propertyOf(gone, property)!)
  if (takes('owner')) lead.ownerId = gone.ownerId
  const [own, other] = [lead.followUp, gone.followUp ?? {}]
  if (takes('status')) {
    Object.assign(lead, { status: gone.status, statusAt: gone.statusAt })
    lead.followUp = filled({ ...lead.followUp, outcome: other.outcome ?? own.outcome, wakeAt: other.wakeAt })
  }
  if (takes('next_step')) {
    Object.assign(lead, { nextStep: gone.nextStep, nextStepAt: gone.nextStepAt })
    lead.followUp = filled({ ...lead.followUp, step: other.step, reminded: other.reminded })
  }
  lead.tags = [...new Set([...lead.tags, ...gone.tags])]
  lead.waitingSince = earliest(lead.waitingSince, gone.waitingSince)
  lead.unsubscribedAt = earliest(lead.unsubscribedAt, gone.unsubscribedAt)
  lead.submittedAt = earliest(lead.submittedAt, gone.submittedAt)
  lead.counted = mergedCounts(lead, gone)
  lead.createdAt = Math.min(lead.createdAt, gone.createdAt)
  const rank = (label: string | null) => (label === null ? -1 : labels.indexOf(label))
  // What somebody fixed stays fixed; of two that only lift, the higher one counts.
  const isFixed = (l: LeadState) => l.labelHeld?.how === 'fixed'
  if (!isFixed(lead) && (isFixed(gone) || rank(gone.labelFloor) > rank(lead.labelFloor)))
    Object.assign(lead, { labelFloor: gone.labelFloor, labelHeld: gone.labelHeld })
  return taken
}

/** The lines of two leads as one's, by the card of today. @returns those that are new to the one that is kept beside all */
export function mergeLines(card: Scorecard, lead: LeadState, gone: LeadState): { lines: ReasonLine[]; added: ReasonLine[] } {
  return mergedLines(card, repriced(card, lead.reasons), repriced(card, gone.reasons))
}

/** What is kept of a merge to take it apart: the one that was kept before and behind it, and the lines that it got. */
export interface MergeStates {
  before: LeadState
  after: LeadState
  added: ReasonLine[]
  /** The lists that it was put on. */
  lists: string[]
}

/** Everything of a lead that a merge may have changed and that is one thing, but for what belongs together. */
const TOGETHER: (keyof LeadState)[][] = [
  ['email', 'emailKey', 'confirmedAt', 'guardedAt'],
  ['ownerId'],
  ['status', 'statusAt'],
  ['nextStep', 'nextStepAt'],
  ['followUp'],
  ['waitingSince'],
  ['unsubscribedAt'],
  ['submittedAt'],
  ['createdAt'],
  ['labelFloor', 'labelHeld'],
]
const equal = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null)

/**
 * Takes from a lead what a merge had given it, as far as it still stands; what was changed since stays.
 * @returns the properties and choices that went back
 */
export function splitFrom(lead: LeadState, { before, after }: MergeStates): Choice[] {
  const back: Choice[] = []
  for (const fields of TOGETHER) {
    if (!fields.every(f => equal(lead[f], after[f])) || fields.every(f => equal(before[f], after[f]))) continue
    for (const field of fields) Object.assign(lead, { [field]: before[field] ?? (field === 'followUp' ? {} : null) })
    back.push(fields[0]!)
  }
  for (const property of new Set([...propertiesOf(before), ...propertiesOf(after)])) {
    const [now, was, merged] = [lead, before, after].map(state => propertyOf(state!, property))
    if (property === 'email' || !equal(now, merged) || equal(was, merged)) continue
    if (was === null || was === undefined) clearProperty(lead, property)
    else setProperty(lead, property, was)
    back.push(property)
  }
  lead.tags = lead.tags.filter(tag => before.tags.includes(tag) || !after.tags.includes(tag))
  lead.counted = countedApart(lead.counted, before.counted, after.counted)
  return back
}

/** What figures know of a lead without what a merge gave it. */
function countedApart(now: Counted, before: Counted, after: Counted): Counted {
  const last = Object.fromEntries(
    Object.entries(now.last ?? {}).flatMap(([passage, at]) => {
      const was = before.last?.[passage as keyof NonNullable<Counted['last']>]
      const own = at === after.last?.[passage as keyof NonNullable<Counted['last']>] ? was : at
      return own === undefined ? [] : [[passage, own]]
    }),
  )
  const first = equal(now.first, after.first) ? before.first : now.first
  const qualified = before.qualified ?? (after.qualified ? undefined : now.qualified)
  return { ...(first && { first }), ...(qualified && { qualified }), ...(Object.keys(last).length > 0 && { last }) }
}

/** Lines without those that a merge had added: each once, where it still stands; of one that was folded, what is left of it. */
export function linesApart(card: Scorecard, lines: ReasonLine[], added: ReasonLine[], now: number): ReasonLine[] {
  const left = [...lines]
  let folded = 0
  for (const line of added) {
    const at = left.findIndex(l => l.axis === 'interest' && l.rule === line.rule && l.at === line.at && l.rule !== EARLIER)
    if (at >= 0) left.splice(at, 1)
    else {
      const rest = decayed(line.points, line.at, now, card.halfLifeDays)
      if (line.rule === EARLIER || Math.abs(rest) < SMALL) folded += rest
    }
  }
  return left.map(l => (l.rule === EARLIER ? { ...l, points: decayed(l.points, l.at, now, card.halfLifeDays) - folded, at: now } : l))
}
