import type { Attribute } from '#core/leads/attributes/attribute'
import { one, VISITS } from '#core/leads/attributes/columns'
import { visitsOf } from '#core/leads/attributes/last-visit'

export const latestSource: Attribute = {
  name: 'source.latest',
  kind: 'text',
  needs: ['visits'],
  words: 'came lately from',
  label: 'Came from lately',
  read: about => visitsOf(about).latest?.source ?? null,
  sql: () => one(`(select t.source ${VISITS} order by t.began_at desc, t.id desc limit 1)`),
}
