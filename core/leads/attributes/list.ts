import type { Attribute } from '#core/leads/attributes/attribute'
import { raw } from '#core/leads/attributes/columns'
import { NotLoaded } from '#core/leads/beside'

export const list: Attribute = {
  name: 'list',
  kind: 'choice',
  choices: 'lists',
  needs: ['lists'],
  words: 'on the list',
  label: 'On the list',
  read({ beside }) {
    if (!beside.lists) throw new NotLoaded('list')
    return beside.lists
  },
  sql: () => ({
    many: raw(
      'select g.list_id::text as v from list_member g join list i on i.id = g.list_id and i.removed_at is null where g.lead_id = l.id',
    ),
  }),
}
