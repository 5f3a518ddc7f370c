import type { PropertyValue } from '#core/properties/kinds'
import { parseEmail } from '#core/identity/email'

/** The properties, one or two, that make somebody the same person to a point: by their keys. */
export type SameBy = string[]
export const BY_EMAIL: SameBy = ['email']

/** A person's key under a rule: equal for the same person, in whatever writing. */
export interface PersonKey {
  rule: string
  key: string
}

export const isByEmail = (same: SameBy): boolean => same.length === 1 && same[0] === 'email'
/** The rule as one word; the order of a pair does not matter. */
export const ruleOf = (same: SameBy): string => [...same].sort().join('+')
export const sameByOf = (rule: string): SameBy => rule.split('+')

/**
 * The key of a person under a rule.
 * @param valueOf a property's value; null when it is not known
 * @returns null when one of the properties is not known, for then nobody can be told from another
 */
export function personKey(same: SameBy, valueOf: (property: string) => PropertyValue | null | undefined): PersonKey | null {
  const parts = [...same].sort().map(property => plain(property, valueOf(property)))
  return parts.every(p => p !== '') ? { rule: ruleOf(same), key: parts.join('\u001f') } : null
}

/** A value as people mean it: case, accents' writing and spaces do not count. Phones are kept in one writing already. */
function plain(property: string, value: PropertyValue | null | undefined): string {
  if (value === null || value === undefined || Array.isArray(value)) return ''
  if (property === 'email') return parseEmail(value)?.key ?? ''
  return value.normalize('NFKC').toLowerCase().replace(/\s+/gu, ' ').trim().slice(0, 300)
}
