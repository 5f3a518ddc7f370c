import { afterDays, daysSince, type Attribute } from '#core/leads/attributes/attribute'
import { lastEntryOf } from '#core/leads/attributes/last-entry'
import { fragment } from '#core/conditions/sql'

/** Whole days since they last sent an entry: it grows with nobody doing anything. */
export const daysSinceEntry: Attribute = {
  name: 'days_since_entry',
  kind: 'number',
  needs: ['entries'],
  words: 'the number of days since the last entry',
  label: 'Days since the last entry',
  read(about) {
    const at = lastEntryOf(about)
    return at === null ? null : daysSince(at, about.now)
  },
  sql: now => ({
    one: fragment`(select floor(greatest(0, extract(epoch from ${new Date(now).toISOString()}::text::timestamptz - max(e.at))) / 86400)::text
      from entry e where e.lead_id = l.id and e.state = 'complete' having count(*) > 0)`,
  }),
  reaches(about, days) {
    const at = lastEntryOf(about)
    return at === null ? Infinity : afterDays(at, days)
  },
}
