import type { FollowUp } from '#core/follow-up/state'
import type { Counted } from '#core/figures/facets'
import type { PropertyValue } from '#core/properties/kinds'
import type { LabelHeld } from '#core/scoring/label-held'
import type { ReasonLine } from '#core/scoring/lines'

/** A lead as the path of an entry sees it. Times in milliseconds since 1970. */
export interface LeadState {
  id: string
  /** Null of who is known by another property only. */
  email: string | null
  emailKey: string | null
  firstName: string | null
  lastName: string | null
  company: string | null
  properties: Record<string, PropertyValue>
  tags: string[]
  label: string | null
  labelFloor: string | null
  /** How the floor is held, until when and why; null: for good, by a point of earlier days, or not at all. */
  labelHeld: LabelHeld | null
  reasons: ReasonLine[]
  /** The half-life that its interest was kept by last; of who is new none. */
  halfLifeDays?: number | null
  ownerId: string | null
  /** The key of the lane that gave it its owner, or that it waits for. */
  lane: string | null
  /** When an owner is looked for again; null: it has one, or waits for none. */
  routeAt: number | null
  status: string
  /** Since when it has this status. */
  statusAt: number
  waitingSince: number | null
  nextStep: string | null
  nextStepAt: number | null
  followUp: FollowUp
  /** When they showed that the address is theirs. */
  confirmedAt: number | null
  /** Since when they want no more mail. */
  unsubscribedAt: number | null
  /** When they gave what we know of them; null of who typed it and never sent it. */
  submittedAt: number | null
  createdAt: number
  /** Since when their address is one that was claimed and that nobody of us vouched for: nothing from before goes to it. */
  guardedAt: number | null
  /** How many events it has had. */
  version: number
  /** What figures have to know of it. */
  counted: Counted
  /** Addresses that arrived on them and are not theirs, or not yet. */
  claims: Claim[]
}

/** An address that was claimed for a lead. `theirs`: how somebody judged; null while nobody has. */
export interface Claim {
  id: string
  key: string
  asked: boolean
  theirs: boolean | null
}

/** Properties that have a place of their own on a lead. */
const OWN = new Map<string, 'firstName' | 'lastName' | 'company'>([
  ['first_name', 'firstName'],
  ['last_name', 'lastName'],
  ['company', 'company'],
])

/** A property's value, wherever it is kept; null when not known. */
export function propertyOf(lead: LeadState, property: string): PropertyValue | null {
  if (property === 'email') return lead.email
  const own = OWN.get(property)
  if (own) return lead[own]
  return Object.hasOwn(lead.properties, property) ? lead.properties[property]! : null
}

/** Sets a property other than the e-mail address, which is who the lead is. */
export function setProperty(lead: LeadState, property: string, value: PropertyValue): void {
  const own = OWN.get(property)
  if (own) lead[own] = [value].flat().join(', ')
  else lead.properties[property] = value
}

/** Empties a property other than the e-mail address. */
export function clearProperty(lead: LeadState, property: string): void {
  const own = OWN.get(property)
  if (own) lead[own] = null
  else delete lead.properties[property]
}

/** How a person is called: their name, else their address, else their number. */
export function nameOf(lead: {
  firstName: string | null
  lastName: string | null
  email: string | null
  properties: Record<string, PropertyValue>
}): string {
  return (
    [lead.firstName, lead.lastName].filter(Boolean).join(' ').trim() ||
    lead.email ||
    [lead.properties.phone ?? ''].flat().join(' ') ||
    'Somebody without a name'
  )
}
