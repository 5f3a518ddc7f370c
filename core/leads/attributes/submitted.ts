import type { Attribute } from '#core/leads/attributes/attribute'
import { yesNo } from '#core/leads/attributes/columns'

/** `no` of who only typed something and never sent it. */
export const submitted: Attribute = {
  name: 'submitted',
  kind: 'choice',
  choices: 'yes_no',
  needs: [],
  words: 'has sent something',
  label: 'Has sent something',
  read: ({ lead }) => (lead.submittedAt === null ? 'no' : 'yes'),
  sql: () => yesNo('l.submitted_at is not null'),
}
