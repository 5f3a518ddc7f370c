import type { Attribute } from '#core/leads/attributes/attribute'
import { created } from '#core/leads/attributes/created'
import { daysSinceEntry } from '#core/leads/attributes/days-since-entry'
import { firstSource } from '#core/leads/attributes/first-source'
import { fit } from '#core/leads/attributes/fit'
import { submitted } from '#core/leads/attributes/submitted'
import { interest } from '#core/leads/attributes/interest'
import { label } from '#core/leads/attributes/label'
import { lastEntry } from '#core/leads/attributes/last-entry'
import { lastVisit } from '#core/leads/attributes/last-visit'
import { latestSource } from '#core/leads/attributes/latest-source'
import { list } from '#core/leads/attributes/list'
import { owner } from '#core/leads/attributes/owner'
import { property } from '#core/leads/attributes/property'
import { segment } from '#core/leads/attributes/segment'
import { status } from '#core/leads/attributes/status'
import { statusSince } from '#core/leads/attributes/status-since'
import { tag } from '#core/leads/attributes/tag'
import { waiting } from '#core/leads/attributes/waiting'

/** All that a condition may ask about a lead, in the order in which editors offer it. A new one is a module and its line here. */
export const ATTRIBUTES: Attribute[] = [
  property,
  label,
  fit,
  interest,
  tag,
  list,
  segment,
  status,
  statusSince,
  owner,
  waiting,
  submitted,
  created,
  lastEntry,
  daysSinceEntry,
  lastVisit,
  firstSource,
  latestSource,
]

const byName = new Map(ATTRIBUTES.filter(a => !a.isFamily).map(a => [a.name, a]))
const families = ATTRIBUTES.filter(a => a.isFamily)
const OWN = /^[a-z][a-z0-9_]{0,49}$/

const found = new Map<string, Attribute | undefined>()
/** Conditions name few attributes over and over; whoever asks for ever new names must not fill the memory. */
const MOST_KEPT = 2_000

/** The attribute that a condition names; undefined when there is none. What every object has names nothing. */
export function attributeOf(name: string): Attribute | undefined {
  if (found.has(name)) return found.get(name)
  if (found.size >= MOST_KEPT) found.clear()
  const isOwn = (own: string) => OWN.test(own) && !(own in Object.prototype)
  const attribute = byName.get(name) ?? families.find(f => name.startsWith(f.name) && isOwn(ownName(f, name)))
  found.set(name, attribute)
  return attribute
}

/** Of a family, the name behind its prefix. */
export const ownName = (attribute: Attribute, name: string): string => (attribute.isFamily ? name.slice(attribute.name.length) : '')
