import type { Attribute } from '#core/leads/attributes/attribute'
import { yesNo } from '#core/leads/attributes/columns'

export const waiting: Attribute = {
  name: 'waiting',
  kind: 'choice',
  choices: 'yes_no',
  needs: [],
  words: 'waits for us',
  label: 'Waits for us',
  read: ({ lead }) => (lead.waitingSince === null ? 'no' : 'yes'),
  sql: () => yesNo('l.waiting_since is not null'),
}
