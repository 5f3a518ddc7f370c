import type { Attribute } from '#core/leads/attributes/attribute'
import { one, raw, textsIn } from '#core/leads/attributes/columns'
import { propertyOf } from '#core/leads/lead'

/** Properties that have a column of their own. */
const COLUMNS: Record<string, string> = { email: 'l.email', first_name: 'l.first_name', last_name: 'l.last_name', company: 'l.company' }

/** The properties of the catalogue, by their keys; their kind, choices and words are the catalogue's. */
export const property: Attribute = {
  name: 'property.',
  isFamily: true,
  kind: 'text',
  needs: [],
  words: '',
  label: '',
  read: ({ lead }, own) => propertyOf(lead, own),
  sql: (_now, own) => (Object.hasOwn(COLUMNS, own) ? one(COLUMNS[own]!) : textsIn(raw('l.properties'), own)),
}
