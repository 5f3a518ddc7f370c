import { defineEventHandler } from 'h3'
import type { HandOnView } from '#core/team'
import { may } from '#core/roles'
import { leavers } from '#db/hand-on'
import { openByOwner } from '#db/team-today'
import { applicationContext } from '#server/application-context'
import { memberOf } from '#server/session'

/** Who will be away within so many days is seen in time. */
const AHEAD_MS = 21 * 86_400_000

/** Whose leads somebody else should look after: who has left, is away, or will be soon. */
export default defineEventHandler(async (event): Promise<HandOnView> => {
  await memberOf(event, 'work leads')
  const { sql, cache } = applicationContext()
  const { members } = await cache.ruleset()
  const [gone, open] = await Promise.all([leavers(sql), openByOwner(sql)])
  const openOf = new Map(open.map(o => [o.member, o.open]))
  const now = Date.now()
  const away = [...members.values()]
    .filter(m => may(m.role, 'work leads'))
    .flatMap(m => {
      const next = m.absences.filter(a => a.until > now && a.from < now + AHEAD_MS).toSorted((a, b) => a.from - b.from)[0]
      const absence = next && { from: new Date(next.from).toISOString(), until: new Date(next.until).toISOString(), standIn: next.standIn }
      return absence
        ? [
            {
              id: m.id,
              name: m.name,
              why: next.from <= now ? ('away' as const) : ('soon' as const),
              open: openOf.get(m.id) ?? 0,
              ...absence,
            },
          ]
        : []
    })
  return { people: [...gone.map(g => ({ ...g, why: 'left' as const, from: null, until: null, standIn: null })), ...away] }
})
