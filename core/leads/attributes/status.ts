import type { Attribute } from '#core/leads/attributes/attribute'
import { one } from '#core/leads/attributes/columns'

export const status: Attribute = {
  name: 'status',
  kind: 'choice',
  choices: 'statuses',
  needs: [],
  words: 'the status',
  label: 'Status',
  read: ({ lead }) => lead.status,
  sql: () => one('l.status'),
}
