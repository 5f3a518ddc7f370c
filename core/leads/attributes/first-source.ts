import type { Attribute } from '#core/leads/attributes/attribute'
import { one, VISITS } from '#core/leads/attributes/columns'
import { visitsOf } from '#core/leads/attributes/last-visit'

export const firstSource: Attribute = {
  name: 'source.first',
  kind: 'text',
  needs: ['visits'],
  words: 'first came from',
  label: 'First came from',
  read: about => visitsOf(about).first?.source ?? null,
  sql: () => one(`(select t.source ${VISITS} order by t.began_at, t.id limit 1)`),
}
