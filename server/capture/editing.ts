import type { H3Event } from 'h3'
import { anyById, paceOf, pointById, type AnyPoint, type Page, type Point } from '#db/points'
import { applicationContext } from '#server/application-context'
import { database } from '#server/database'
import { stopsNow } from '#server/capture/stops'
import { problem } from '#server/problem'
import { idFrom } from '#server/wire'

/** The point an address names by its id. @throws 404 */
export async function requirePoint(event: H3Event): Promise<Point> {
  const point = await pointById(database(), idFrom(event))
  if (!point) throw problem(404, 'There is no such form.')
  return point
}

/** The form or page an address names by its id. @throws 404 */
export async function anyPoint(event: H3Event): Promise<AnyPoint> {
  const point = await anyById(database(), idFrom(event))
  if (!point) throw problem(404, 'There is no such form or page.')
  return point
}

/** A point as its editor shows it. */
export const pointView = async (point: AnyPoint) => ({
  ...point,
  pace: point.kind !== 'page' && point.live ? await paceOf(database(), point.live, point.id) : null,
})

export const isPage = (point: AnyPoint): point is Page => point.kind === 'page'

/** @throws 422 with what keeps the working copy from going live */
export async function requireNoStops(point: AnyPoint): Promise<void> {
  const { sql, cache } = applicationContext()
  const found = await stopsNow(sql, await cache.ruleset(), point, point.workingCopy)
  if (found.length)
    throw problem(
      422,
      `The ${point.kind} cannot go live yet; see the list.`,
      found.map(({ field, message }) => ({ field, message })),
    )
}

export const changedMeanwhile = () =>
  problem(
    409,
    'Somebody else changed this in the meantime, perhaps you in another window. Your text is still here: copy what you need, then load their state.',
  )
