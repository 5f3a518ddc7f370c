import type { Email } from '#core/identity/email'
import type { PersonKey } from '#core/identity/same-person'

/** Who something may be from: by the keys of the house's rules, in the order in which they count, and by the address that came along. */
export interface Arrival {
  keys: PersonKey[]
  email: Email | null
}

/**
 * What the address that came along is.
 * none: there was none. makes: nobody was found, and it makes the person. theirs: by it, or by another key, its own person was
 * found. claimed: it arrived on somebody who was found by something else, whom anybody may name who knows, say, a number.
 */
export type AddressIs = 'none' | 'makes' | 'theirs' | 'claimed'

export interface Identified<P> {
  person: P | null
  by: PersonKey | null
  address: AddressIs
}

/**
 * Says who it is, and what becomes of the address that came along; for all ways in. A claimed address is never a key by which
 * people are found (see docs/decisions/0029).
 * @param find the person with a key; under the rule `email` by the key of an address that is theirs
 */
export function identify<P extends { emailKey: string | null }>(
  { keys, email }: Arrival,
  find: (key: PersonKey) => P | undefined,
): Identified<P> {
  // Who was two leads has two addresses: by either they are found.
  const isTheirs = (person: P, { key }: Email) => person.emailKey === key || find({ rule: 'email', key }) === person
  for (const by of [...keys, ...(email ? [{ rule: 'email', key: email.key }] : [])]) {
    const person = find(by)
    if (person) return { person, by, address: !email ? 'none' : isTheirs(person, email) ? 'theirs' : 'claimed' }
  }
  return { person: null, by: null, address: email ? 'makes' : 'none' }
}

/** A claim that was confirmed, and what else is known then. */
export interface Confirming {
  /** The address that the person has. */
  own: string | null
  /** Somebody else has this address, or has confirmed that it is theirs on another person. */
  takenElsewhere: boolean
  /** Another address was confirmed for the same person and not judged yet. */
  rivals: number
}

/** Whether a confirmed address becomes the person's at once, or two say that they are this person and somebody has to judge. */
export const settle = ({ own, takenElsewhere, rivals }: Confirming): 'theirs' | 'judge' =>
  own === null && !takenElsewhere && rivals === 0 ? 'theirs' : 'judge'
