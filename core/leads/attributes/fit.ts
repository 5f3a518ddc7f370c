import type { Attribute } from '#core/leads/attributes/attribute'
import { one } from '#core/leads/attributes/columns'
import { totalsAt } from '#core/scoring/lines'

export const fit: Attribute = {
  name: 'fit',
  kind: 'number',
  needs: [],
  isOfScore: true,
  words: 'fit',
  label: 'Fit',
  read: ({ lead, now, halfLifeDays }) => totalsAt(lead.reasons, now, halfLifeDays).fit,
  sql: () => one('l.fit::text'),
}
