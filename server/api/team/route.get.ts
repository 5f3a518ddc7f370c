import { defineEventHandler } from 'h3'
import { loadsOf } from '#core/figures/readings'
import { may } from '#core/roles'
import type { RouteView } from '#core/team'
import { absencesFrom } from '#db/members'
import { gotLately, turns, waitLongest } from '#db/routing'
import { applicationContext } from '#server/application-context'
import { readFigures } from '#server/consumers/figures'
import { absenceView } from '#server/routing/absences'
import { memberOf } from '#server/session'

/** Whose turn it is in each lane, who is there when, and what each owner has in hand. */
export default defineEventHandler(async (event): Promise<RouteView> => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const { house, statuses, members } = await cache.ruleset()
  const {
    sums,
    more: [given, lately, longest, absences],
  } = await readFigures(sql, house.zone, [{ figure: 'standing' }], tx =>
    Promise.all([turns(tx), gotLately(tx), waitLongest(tx), absencesFrom(tx, new Date())]),
  )
  const loads = loadsOf(sums, statuses)
  const people = [...members.values()].filter(m => may(m.role, 'work leads') || loads.has(m.id))
  return {
    turns: given.map(t => ({ ...t, lastAt: t.lastAt?.toISOString() ?? null })),
    people: people.map(({ id, hours, mostOpen, languages }) => ({
      id,
      hours,
      mostOpen,
      languages,
      absences: absences.filter(a => a.memberId === id).map(a => absenceView(a, hours.zone)),
      ...(loads.get(id) ?? { open: 0, waiting: 0 }),
      week: lately.find(l => l.memberId === id)?.week ?? 0,
      oldestWaiting: longest.find(l => l.memberId === id)?.oldestWaiting.toISOString() ?? null,
    })),
  }
})
