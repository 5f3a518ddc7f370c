import { defineEventHandler, getQuery } from 'h3'
import { places } from '#core/points/places'
import { pageVisitors, placedPoints } from '#db/places'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** The site's pages with what stands on them, over the last days. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const days = Math.min(365, Math.max(1, Number(getQuery(event).days) || 28))
  const since = new Date(Date.now() - days * 86_400_000)
  const [pages, points] = await Promise.all([pageVisitors(database(), since), placedPoints(database(), since)])
  return { days, places: places(pages, points) }
})
