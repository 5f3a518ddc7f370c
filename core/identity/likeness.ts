import { mailboxOf } from '#core/identity/email'
import type { LeadState } from '#core/leads/lead'

/**
 * Who may be here twice: the same number, the same name at the same firm, an address that looks alike. Nobody is joined by it; it
 * brings two before a person who judges.
 */

/** What of a lead is compared. */
export interface LikenessKeys {
  /** What stands before and behind the @ of an address, and the mailbox that it most likely ends in. */
  local: string | null
  domain: string | null
  mailbox: string | null
  phones: string[]
  /** Both names, in one writing and order; null when only one is known. */
  name: string | null
  firm: string | null
}

const words = (text: string): string[] =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)

/** What firms add to their names to say what they are. */
const FORMS = new Set(
  'ltd limited llc inc incorporated corp co company plc lp llp gmbh ag kg ug ohg ev sarl sas sa srl spa bv nv ab as oy aps the and und et y'.split(
    ' ',
  ),
)

/** @param phones the properties that hold telephone numbers */
export function likenessKeys(
  lead: Pick<LeadState, 'emailKey' | 'firstName' | 'lastName' | 'company' | 'properties'>,
  phones: string[],
): LikenessKeys {
  const names = [...words(lead.firstName ?? ''), ...words(lead.lastName ?? '')]
  const firm = words(lead.company ?? '')
  const proper = firm.filter(word => !FORMS.has(word))
  const cut = (text: string) => text.slice(0, 200) || null
  const key = lead.emailKey
  const at = key === null ? -1 : key.lastIndexOf('@')
  return {
    local: key === null ? null : key.slice(0, at),
    domain: key === null ? null : key.slice(at + 1),
    mailbox: key === null ? null : mailboxOf(key),
    phones: [...new Set(phones.flatMap(key => lead.properties[key] ?? []))].slice(0, 20),
    name: names.length > 1 ? cut(names.toSorted().join(' ')) : null,
    firm: cut((proper.length ? proper : firm).join(' ')),
  }
}

/** Two leads side by side; likenesses from 0 to 1 by the trigrams of both texts, null where one of them is not known. */
export interface Compared {
  addresses: [string, string] | null
  /** Of what stands before and behind the @. */
  localAlike: number
  domainAlike: number
  phones: string[]
  nameAlike: number | null
  firmAlike: number | null
}

export type LikeBy = 'phone' | 'name_firm' | 'mailbox' | 'address'
export interface Likeness {
  /** From 0 to 1. */
  strength: number
  /** By what, the strongest first; `what` is what they have in common, where it can be said. */
  reasons: { by: LikeBy; what?: string }[]
}

/** Two that are less alike than this are not brought before anybody. */
export const LEAST_LIKE = 0.4

/** From so much likeness on two parts of addresses look alike: families and colleagues share much of theirs, so without a name it takes more. */
export const WITH_NAME = 0.4
export const WITHOUT_NAME = 0.65

/** Addresses that whoever is there reads. */
const ROLES = new Set('info office hello contact sales admin mail team post support accounts reception enquiries'.split(' '))

/**
 * How likely it is that two leads are one. Weights were chosen by hand: each thing in common counts for itself, and names that
 * are known and differ speak against it (a family, a switchboard, colleagues).
 * @returns null when too little speaks for it
 */
export function likeness({ addresses, localAlike, domainAlike, phones, nameAlike, firmAlike }: Compared): Likeness | null {
  const found: { by: LikeBy; weight: number; what?: string }[] = []
  if (phones.length) found.push({ by: 'phone', weight: 0.65, what: phones[0]! })
  if (nameAlike === 1 && firmAlike === 1) found.push({ by: 'name_firm', weight: 0.65 })
  if (addresses) {
    const [a, b] = addresses
    const local = a.slice(0, a.lastIndexOf('@'))
    const sameLocal = local === b.slice(0, b.lastIndexOf('@'))
    const sameDomain = domainAlike === 1
    if (mailboxOf(a) === mailboxOf(b)) found.push({ by: 'mailbox', weight: 0.75 })
    else if (sameDomain && localAlike >= (nameAlike === 1 ? WITH_NAME : WITHOUT_NAME))
      found.push({ by: 'address', weight: 0.2 + 0.4 * localAlike })
    else if (sameLocal && !ROLES.has(local) && domainAlike >= WITH_NAME) found.push({ by: 'address', weight: 0.2 + 0.4 * domainAlike })
  }
  if (!found.length) return null
  let against = 1 - found.reduce((left, f) => left * (1 - f.weight), 1)
  if (nameAlike !== null) against += nameAlike === 1 ? 0.15 : nameAlike >= 0.5 ? 0.05 : -0.35
  const strength = Math.min(1, Math.max(0, against))
  if (strength < LEAST_LIKE) return null
  return {
    strength: Math.round(strength * 100) / 100,
    reasons: found.toSorted((a, b) => b.weight - a.weight).map(({ by, what }) => ({ by, ...(what && { what }) })),
  }
}

/** How likely, in words. */
export const likelyInWords = (strength: number): string =>
  strength >= 0.8 ? 'Very likely the same' : strength >= 0.6 ? 'Likely the same' : 'Perhaps the same'
