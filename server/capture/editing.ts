import type { H3Event } from 'h3'
import { filesOn, type PageDefinition } from '#core/pages/definition'
import type { PageSurroundings } from '#core/pages/checks'
import type { Surroundings } from '#core/points/checks'
import { assetsKnown } from '#db/files'
import { anyById, paceOf, pointById, pointsToPlace, type AnyPoint, type Page, type Point } from '#db/points'
import { database } from '#server/database'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'
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
export const pointView = async (point: AnyPoint) => ({ ...point, pace: point.kind === 'form' && point.live ? await paceOf(database(), point.live, point.id) : null })

/** What the checks of a page compare it with. */
export async function pageSurroundings(page: PageDefinition): Promise<PageSurroundings> {
  const sql = database()
  const [points, files] = await Promise.all([pointsToPlace(sql), assetsKnown(sql, filesOn(page).map(f => f.id))])
  return { points, files }
}

export const isPage = (point: AnyPoint): point is Page => point.kind === 'page'

/** What the checks compare a working copy with. */
export const surroundings = (s: Ruleset, files?: Set<string>): Surroundings => ({ files, properties: s.properties, labels: s.labelOrder, topics: s.topics.map(t => t.key), members: [...s.members.keys()], lists: s.lists.map(l => l.id) })

export const changedMeanwhile = () =>
  problem(409, 'Somebody else changed this in the meantime, perhaps you in another window. Your text is still here: copy what you need, then load their state.')
