import { defineEventHandler } from 'h3'
import { firstLeadIds, leadIds, type SortKey } from '#db/lead-list'
import { leadPage } from '#db/leads'
import { applicationContext } from '#server/application-context'
import { readingsFor, readTeamFilter, wholeNumber } from '#server/follow-up/listing'
import { leadView } from '#server/follow-up/view'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

const SORTS: SortKey[] = ['name', 'company', 'label', 'interest', 'fit', 'owner', 'status', 'created', 'updated', 'waiting']

/**
 * One page of leads. With `count=later` it does not wait until they are counted: `total` is how many there are at least, and
 * `/api/team/leads/count` says how many.
 */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const { filter, query, impossible } = readTeamFilter(event, ['sort', 'order', 'from', 'size', 'count'], ruleset)
  const sort = (query.sort ?? 'updated') as SortKey
  if (!SORTS.includes(sort))
    throw problem(422, 'The query cannot be read; see the list.', [{ field: 'sort', message: `Sort by one of ${SORTS.join(', ')}.` }])
  if (query.count !== undefined && query.count !== 'later')
    throw problem(422, 'The query cannot be read; see the list.', [{ field: 'count', message: 'Send count=later, or leave it out.' }])
  const page = { from: wholeNumber(query.from, 'from', 0, 0, 10_000_000), size: wholeNumber(query.size, 'size', 25, 1, 200) }
  if (impossible) return { leads: [], total: 0, more: false }
  const sql = readingsFor(filter)
  const { rows, total, more } = await leadPage(sql, filter, sort, query.order !== 'up', page, query.count ? firstLeadIds : leadIds)
  return { leads: rows.map(row => leadView(row, ruleset, Date.now())), total, more }
})
