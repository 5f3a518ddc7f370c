/** The kinds of property, and of the questions that fill them. */
export const PROPERTY_KINDS = [
  'short_text',
  'long_text',
  'email',
  'phone',
  'number',
  'money',
  'date',
  'one_of',
  'some_of',
  'yes_no',
  'url',
  'country',
  'file',
] as const
export type PropertyKind = (typeof PROPERTY_KINDS)[number]

/** How a kind is called on the screen. */
export const KIND_NAMES: Record<PropertyKind | 'consent', string> = {
  short_text: 'Short text',
  long_text: 'Long text',
  email: 'E-mail',
  phone: 'Phone',
  number: 'Number',
  money: 'Money',
  date: 'Date',
  one_of: 'One of several',
  some_of: 'Some of several',
  yes_no: 'Yes or no',
  url: 'Web address',
  country: 'Country',
  file: 'File',
  consent: 'Consent',
}

/**
 * How freely people tell it. Private: people ask why. Sensitive: hidden from lists and
 * never sent to others (health, beliefs, money troubles).
 */
export const SENSITIVITIES = ['ordinary', 'private', 'sensitive'] as const
export type Sensitivity = (typeof SENSITIVITIES)[number]

export interface Choice {
  value: string
  text: string
}

/** A named, typed attribute about a lead. */
export interface Property {
  key: string
  label: string
  kind: PropertyKind
  rank: number
  sensitivity: Sensitivity
  /** Of one-of and some-of: what is offered to a new question that fills it. */
  choices: Choice[]
  /** Retired: no new question fills it; what is known stays. */
  retired: boolean
}

/**
 * A property's value as it is kept, always text: numbers as `-12.5`, money in the smallest
 * unit (`4830000`), dates as `2026-04-18`, yes-no as `yes` or `no`, phones as `+33142685300`,
 * countries as two letters. Some-of is a list, and so are files, as `id/name`.
 */
export type PropertyValue = string | string[]

/** Which kinds of question may fill a kind of property: the same, and what reads the same way. */
export function fills(question: PropertyKind | 'consent', property: PropertyKind): boolean {
  if (question === property) return true
  if (property === 'short_text' || property === 'long_text') return !['some_of', 'consent', 'file'].includes(question)
  return property === 'some_of' && question === 'one_of'
}

/** The properties that each house has and that cannot be retired: they are columns of a lead. */
export const BUILT_IN = ['email', 'first_name', 'last_name', 'company'] as const
