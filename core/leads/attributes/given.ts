import type { Attribute } from '#core/leads/attributes/attribute'
import { yesNo } from '#core/leads/attributes/columns'

/** `no` of who only typed something and never sent it. */
export const given: Attribute = {
  name: 'given',
  kind: 'choice',
  choices: 'yes_no',
  needs: [],
  words: 'has sent something',
  label: 'Has sent something',
  read: ({ lead }) => (lead.givenAt === null ? 'no' : 'yes'),
  sql: () => yesNo('l.given_at is not null'),
}
