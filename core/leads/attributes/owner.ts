import type { Attribute } from '#core/leads/attributes/attribute'
import { one } from '#core/leads/attributes/columns'

export const owner: Attribute = {
  name: 'owner',
  kind: 'choice',
  choices: 'members',
  needs: [],
  words: 'the owner',
  label: 'Owner',
  read: ({ lead }) => lead.ownerId,
  sql: () => one('l.owner_id::text'),
}
