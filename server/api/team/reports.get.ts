import { defineEventHandler, getQuery } from 'h3'
import { proportion } from '#core/stats/proportion'
import { leadsByDay, yields, type Yield } from '#db/reports'
import { applicationContext } from '#server/application-context'
import { wholeNumber } from '#server/follow-up/listing'
import { memberOf } from '#server/session'

/** What became of the leads of the last days, by point and by source, each rate with its doubt. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const days = wholeNumber(getQuery(event).days as string | undefined, 'days', 90, 1, 3650)
  const since = new Date(Date.now() - days * 86_400_000)
  const { sql, cache } = applicationContext()
  const { house } = await cache.ruleset()
  const [{ points, sources }, byDay] = await Promise.all([yields(sql, since), leadsByDay(sql, since, house.zone)])
  const withRates = (rows: Yield[]) => rows.map(y => ({ ...y, qualifiedRate: proportion(y.qualified, y.leads), wonRate: proportion(y.won, y.leads) }))
  return { days, points: withRates(points), sources: withRates(sources), byDay }
})
