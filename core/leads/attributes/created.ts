import { dayOf, type Attribute } from '#core/leads/attributes/attribute'
import { day, one } from '#core/leads/attributes/columns'

export const created: Attribute = {
  name: 'created',
  kind: 'day',
  needs: [],
  words: 'first came',
  label: 'First came',
  read: ({ lead }) => dayOf(lead.createdAt),
  sql: () => one(day('l.created_at')),
}
