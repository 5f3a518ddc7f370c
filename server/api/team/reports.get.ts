import { defineEventHandler, getQuery } from 'h3'
import { reportsOf, reportsWant, type Yield } from '#core/figures/readings'
import { proportion } from '#core/stats/proportion'
import { pointNames } from '#db/points'
import { applicationContext } from '#server/application-context'
import { readFigures } from '#server/consumers/figures'
import { wholeNumber } from '#server/follow-up/listing'
import { memberOf } from '#server/session'

/** What became of the leads of the last days, by point and by source, each rate with its doubt. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const days = wholeNumber(getQuery(event).days as string | undefined, 'days', 90, 1, 3650)
  const { sql, cache } = applicationContext()
  const {
    house: { zone },
    statuses,
  } = await cache.ruleset()
  const now = Date.now()
  const { sums, more: names } = await readFigures(sql, zone, reportsWant(now, days, zone), pointNames)
  const { points, sources, byDay } = reportsOf(sums, statuses, names, now, days, zone)
  const withRates = (rows: Yield[]) =>
    rows.map(y => ({ ...y, qualifiedRate: proportion(y.qualified, y.leads), wonRate: proportion(y.won, y.leads) }))
  return { days, points: withRates(points), sources: withRates(sources), byDay }
})
