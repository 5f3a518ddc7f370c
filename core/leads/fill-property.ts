import { propertyOf, setProperty, type LeadState } from '#core/leads/lead'
import type { OnDifference } from '#core/points/limits'
import type { PropertyValue } from '#core/properties/kinds'

export const inWords = (value: PropertyValue) => [value].flat().join(', ')
export const same = (a: PropertyValue, b: PropertyValue) => JSON.stringify(a) === JSON.stringify(b)

/**
 * Fills a property of a lead.
 * @param how what becomes of what is known already
 * @param known what the point allows of people who are known
 * @returns what stood there before, when something else stands there now
 */
export function fillProperty(
  lead: LeadState,
  property: string,
  value: PropertyValue,
  how: OnDifference,
  known: 'new' | 'update' | 'fill' | 'leave',
) {
  if (property === 'email' || known === 'leave' || (known !== 'new' && how === 'keep')) return null
  const before = propertyOf(lead, property)
  if (before === null) return void setProperty(lead, property, value)
  if (known === 'fill' || how === 'fill' || same(before, value)) return null
  const after = how === 'add' ? added(before, value) : value
  if (same(before, after)) return null
  setProperty(lead, property, after)
  return { property, from: inWords(before), to: inWords(after) }
}

/** What was known and what is new: lists grow by what they lack, texts by a line. */
function added(before: PropertyValue, value: PropertyValue): PropertyValue {
  if (Array.isArray(before) || Array.isArray(value)) return [...new Set([before, value].flat())]
  return before.split('\n').includes(value) ? before : `${before}\n${value}`
}
