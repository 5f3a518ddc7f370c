import { dayOf, type About, type Attribute } from '#core/leads/attributes/attribute'
import { day, one } from '#core/leads/attributes/columns'
import { NotLoaded } from '#core/leads/beside'

/** When they sent the last entry that counts. */
export const LAST_ENTRY = `(select max(e.at) from entry e where e.lead_id = l.id and e.state = 'complete')`
export function lastEntryOf({ beside }: About): number | null {
  if (beside.lastEntryAt === undefined) throw new NotLoaded('the last entry')
  return beside.lastEntryAt
}

export const lastEntry: Attribute = {
  name: 'last_entry',
  kind: 'day',
  needs: ['entries'],
  words: 'the last entry',
  label: 'Last entry',
  read(about) {
    const at = lastEntryOf(about)
    return at === null ? null : dayOf(at)
  },
  sql: () => one(day(LAST_ENTRY)),
}
