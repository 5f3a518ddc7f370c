import { dayOf, type About, type Attribute } from '#core/leads/attributes/attribute'
import { day, one, VISITS } from '#core/leads/attributes/columns'
import { NotLoaded, type Beside } from '#core/leads/beside'

export function visitsOf({ beside }: About): NonNullable<Beside['visits']> {
  if (!beside.visits) throw new NotLoaded('visits')
  return beside.visits
}

export const lastVisit: Attribute = {
  name: 'last_visit',
  kind: 'day',
  needs: ['visits'],
  words: 'the last visit',
  label: 'Last visit',
  read(about) {
    const { lastAt } = visitsOf(about)
    return lastAt === null ? null : dayOf(lastAt)
  },
  sql: () => one(`(select ${day('max(t.last_at)')} ${VISITS})`),
}
