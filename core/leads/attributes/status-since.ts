import { dayOf, type Attribute } from '#core/leads/attributes/attribute'
import { day, one } from '#core/leads/attributes/columns'

export const statusSince: Attribute = {
  name: 'status_since',
  kind: 'day',
  needs: [],
  words: 'has the status since',
  label: 'Status since',
  read: ({ lead }) => dayOf(lead.statusAt),
  sql: () => one(day('l.status_at')),
}
