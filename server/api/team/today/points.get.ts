import { defineEventHandler } from 'h3'
import { DateTime } from 'luxon'
import { filesIn } from '#core/points/definition'
import { stops } from '#core/points/checks'
import type { PointsTodayView } from '#core/team'
import { assetsKnown } from '#db/files'
import { cameSince, staleCopies, undeliveredSince, wentLiveSince } from '#db/morning'
import { notGoneLive } from '#db/going-live'
import { pointRows } from '#db/points'
import { applicationContext } from '#server/application-context'
import { surroundings } from '#server/capture/stops'
import { memberOf } from '#server/session'

/** What of the house's points concerns a marketer this morning: what came since yesterday, what went live, what broke, which copies are stale. */
export default defineEventHandler(async (event): Promise<PointsTodayView> => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const now = DateTime.now().setZone(ruleset.house.zone)
  const since = (days: number) => now.minus({ days }).startOf('day').toJSDate()
  const [came, live, stale, undelivered, broken, kept] = await Promise.all([
    cameSince(sql, since(1)),
    wentLiveSince(sql, since(6)),
    staleCopies(sql, since(90)),
    undeliveredSince(sql, since(6)),
    brokenPoints(),
    notGoneLive(sql),
  ])
  return {
    since: since(1).toISOString(),
    came,
    live: live.map(l => ({ ...l, at: l.at.toISOString() })),
    stale: stale.map(c => ({ ...c, at: c.at.toISOString() })),
    undelivered,
    broken: [
      ...kept.map(k => ({ id: k.id, name: k.name, kind: k.kind, why: `It was to go live by itself, and could not: ${k.flaw}` })),
      ...broken,
    ],
  }

  /** Live forms that could not go live today: something that they need is gone, or they closed by themselves. */
  async function brokenPoints(): Promise<PointsTodayView['broken']> {
    const rows = await pointRows(sql)
    const points = await Promise.all(rows.map(r => cache.point(r.key)))
    const found = await Promise.all(
      points.map(async point => {
        const d = point?.live?.definition
        if (!point || !d) return []
        const until = d.closing.until
        const wrong = stops(d, surroundings(ruleset, await assetsKnown(sql, filesIn(d))))[0]?.message
        const over =
          until !== null && Date.parse(until) <= now.toMillis() ? 'It closed by itself: nobody can fill it in any more.' : undefined
        const why = wrong ?? over
        return why ? [{ id: point.id, name: point.name, kind: point.kind, why }] : []
      }),
    )
    return found.flat()
  }
})
