import type { Attribute } from '#core/leads/attributes/attribute'
import { one } from '#core/leads/attributes/columns'
import { crossing, wholeInterestSql } from '#core/scoring/interest-key'
import { interestSum, totalsAt } from '#core/scoring/lines'

/** What is left of it at the moment. */
export const interest: Attribute = {
  name: 'interest',
  kind: 'number',
  needs: [],
  isOfScore: true,
  words: 'interest',
  label: 'Interest',
  read: ({ lead, now, halfLifeDays }) => totalsAt(lead.reasons, now, halfLifeDays).interest,
  sql: now => one(`${wholeInterestSql(`'${new Date(now).toISOString()}'::timestamptz`)}::text`),
  reaches: ({ lead, now, halfLifeDays }, bound) => crossing(interestSum(lead.reasons, now, halfLifeDays), now, halfLifeDays, [bound]),
}
