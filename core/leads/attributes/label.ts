import type { Attribute } from '#core/leads/attributes/attribute'
import { one } from '#core/leads/attributes/columns'

export const label: Attribute = {
  name: 'label',
  kind: 'choice',
  choices: 'labels',
  needs: [],
  isOfScore: true,
  words: 'the label',
  label: 'Label',
  read: ({ lead }) => lead.label,
  sql: () => one('l.label'),
}
