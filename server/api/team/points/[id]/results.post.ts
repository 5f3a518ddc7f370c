import { ArrayMaxSize, ArrayMinSize } from 'class-validator'
import { defineEventHandler } from 'h3'
import type { ResultsView } from '#core/team'
import { ListOf } from '#core/validate'
import { applicationContext } from '#server/application-context'
import { longReadings } from '#server/database'
import { everAsked, entriesOf, GroupBody, pointToRead, readResults } from '#server/results/read'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class Asked {
  @ArrayMinSize(1) @ArrayMaxSize(2) @ListOf(() => GroupBody) groups!: GroupBody[]
}

/** What came of a form or a page: how many saw, began and sent it, where they stopped, what they answered; of one group, or of two side by side. */
export default defineEventHandler(async (event): Promise<ResultsView> => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const { groups } = await readChecked(event, Asked)
  const point = await pointToRead(sql, idFrom(event))
  const ruleset = await cache.ruleset()
  const asked = groups.map(g => entriesOf(point, g, ruleset))
  const { editions, questions } = await everAsked(sql, point)
  const results = await Promise.all(asked.map(of => readResults(of.condition ? longReadings() : sql, of, questions)))
  return {
    name: point.name,
    kind: point.kind,
    slug: point.slug,
    editions: editions.map(({ number, publishedAt }) => ({ number, publishedAt: publishedAt.toISOString() })).reverse(),
    definition: point.live?.definition ?? point.workingCopy,
    groups: results,
  }
})
