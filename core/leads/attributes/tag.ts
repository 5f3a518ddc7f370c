import type { Attribute } from '#core/leads/attributes/attribute'
import { raw } from '#core/leads/attributes/columns'

export const tag: Attribute = {
  name: 'tag',
  kind: 'text',
  needs: [],
  words: 'the tag',
  label: 'Tag',
  read: ({ lead }) => lead.tags,
  sql: () => ({ many: raw('select unnest(l.tags) as v') }),
}
