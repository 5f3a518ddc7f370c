import { filesOn, type PageDefinition } from '#core/pages/definition'
import { pageStops, type PageSurroundings } from '#core/pages/checks'
import { stops, type Surroundings } from '#core/points/checks'
import { filesIn, type PointDefinition } from '#core/points/definition'
import type { Sql } from '#db/client'
import { assetsKnown } from '#db/files'
import { otherNames, pointsToPlace, type AnyPoint } from '#db/points'
import type { Ruleset } from '#server/ruleset'

/** What the checks of a page compare it with. */
async function pageSurroundings(sql: Sql, page: PageDefinition): Promise<PageSurroundings> {
  const [points, files] = await Promise.all([
    pointsToPlace(sql),
    assetsKnown(
      sql,
      filesOn(page).map(f => f.id),
    ),
  ])
  return { points, files }
}

/** What the checks compare a working copy with. */
export const surroundings = (s: Ruleset, files?: Set<string>): Surroundings => ({
  files,
  properties: s.properties,
  labels: s.labelOrder,
  topics: s.topics.map(t => t.key),
  members: [...s.members.keys()],
  pools: s.plan.lanes.map(l => l.key),
  lists: s.lists.map(l => l.id),
})

/** What keeps a form or page from going live just now. */
export async function stopsNow(
  sql: Sql,
  ruleset: Ruleset,
  { id, name, kind }: Pick<AnyPoint, 'id' | 'name' | 'kind'>,
  definition: PointDefinition | PageDefinition,
) {
  const named = { name, otherNames: await otherNames(sql, id) }
  if (kind === 'page')
    return pageStops(definition as PageDefinition, { ...(await pageSurroundings(sql, definition as PageDefinition)), ...named })
  const form = definition as PointDefinition
  return stops(form, { ...surroundings(ruleset, await assetsKnown(sql, filesIn(form))), ...named })
}
