import { defineEventHandler } from 'h3'
import type { SortKey } from '#db/lead-list'
import { leadPage } from '#db/leads'
import { applicationContext } from '#server/application-context'
import { listReadings, longReadings } from '#server/database'
import { readTeamFilter, wholeNumber } from '#server/follow-up/listing'
import { leadView } from '#server/follow-up/view'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

const SORTS: SortKey[] = ['name', 'company', 'label', 'interest', 'fit', 'owner', 'status', 'created', 'updated', 'waiting']

export default defineEventHandler(async event => {
  await memberOf(event)
  const { cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const { filter, query, impossible } = readTeamFilter(event, ['sort', 'order', 'from', 'size'], ruleset)
  const sort = (query.sort ?? 'updated') as SortKey
  if (!SORTS.includes(sort))
    throw problem(422, 'The query cannot be read; see the list.', [{ field: 'sort', message: `Sort by one of ${SORTS.join(', ')}.` }])
  const page = { from: wholeNumber(query.from, 'from', 0, 0, 10_000_000), size: wholeNumber(query.size, 'size', 25, 1, 200) }
  if (impossible) return { leads: [], total: 0, more: false }
  const { rows, total, more } = await leadPage(filter.condition ? longReadings() : listReadings(), filter, sort, query.order !== 'up', page)
  return { leads: rows.map(row => leadView(row, ruleset, Date.now())), total, more }
})
