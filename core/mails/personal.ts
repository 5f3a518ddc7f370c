import type { Place } from '#core/points/mails'
import { fillIn, placeholdersIn } from '#core/points/mails'

/** What a text to one person may name. */
const PLACES: Record<string, Omit<Place, 'name'>> = {
  'lead.first_name': { label: 'First name', group: 'The person', isLink: false },
  'lead.last_name': { label: 'Last name', group: 'The person', isLink: false },
  'lead.name': { label: 'Whole name', group: 'The person', isLink: false },
  'lead.company': { label: 'Company', group: 'The person', isLink: false },
  'me.name': { label: 'Who writes', group: 'Us', isLink: false },
  'house.name': { label: 'Our firm', group: 'Us', isLink: false },
}
/** A property that is named in it, by its key. */
const PROPERTY = /^known\.[a-z][a-z0-9_]*$/
const TAG = /^[#^/]/

/** What the menu of such a text offers. @param properties those that may stand in it, with what people call them */
export const placesOfPersonal = (properties: readonly { key: string; label: string }[]): Place[] => [
  ...Object.entries(PLACES).map(([name, place]) => ({ name, ...place })),
  ...properties.map(({ key, label }) => ({ name: `known.${key}`, label, group: 'What we know', isLink: false })),
]

/** What is wrong with the placeholders of a text to one person; null where nothing is. */
export function flawInPersonal(template: string): string | null {
  const used = placeholdersIn(template)
  if (!used) return 'A placeholder is not closed: two braces open it, and two close it.'
  const strange = used.map(name => name.replace(TAG, '')).find(name => !Object.hasOwn(PLACES, name) && !PROPERTY.test(name))
  return strange === undefined ? null : `The placeholder “${strange}” stands for nothing. Put placeholders in from the menu.`
}

export interface Person {
  firstName: string | null
  lastName: string | null
  name: string
  company: string | null
}
/** Who writes, and for whom. */
export interface Us {
  me: string
  house: string
}
const attributesOf = (lead: Person, us: Us, known: Record<string, string>) =>
  ({
    lead: { first_name: lead.firstName ?? '', last_name: lead.lastName ?? '', name: lead.name, company: lead.company ?? '' },
    me: { name: us.me },
    house: { name: us.house },
    known,
  }) as never

/**
 * A text with what is known of one person. It begins with a greeting and ends with who writes, unless it says so itself.
 * @param known what is known of them beside, in words, by property
 * @throws when the text is no template
 */
export function writtenTo(template: string, lead: Person, us: Us, known: Record<string, string>): string {
  const text = fillIn(template, attributesOf(lead, us, known))
  const hello = /^(hello|dear|good (morning|day|evening)|hi)\b/i.test(text.trimStart())
    ? ''
    : `Hello${lead.firstName ? ` ${lead.firstName}` : ''},\n\n`
  const bye = template.includes('{{me.name}}') ? '' : `\n\nWith kind regards\n${us.me}\n${us.house}`
  return `${hello}${text}${bye}`
}

/** A subject with what is known, in one line. @throws when it is no template */
export const subjectTo = (template: string, lead: Person, us: Us, known: Record<string, string>): string =>
  fillIn(template, attributesOf(lead, us, known))
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 200)
