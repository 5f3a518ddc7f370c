import { defineEventHandler, getQuery } from 'h3'
import { entriesOf, entriesWant } from '#core/figures/readings'
import { pointRows } from '#db/points'
import { applicationContext } from '#server/application-context'
import { readFigures } from '#server/consumers/figures'
import { memberOf } from '#server/session'

/** All points in use, or all that were put away, and how they do. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const { house } = await cache.ruleset()
  const { sums, more: rows } = await readFigures(sql, house.zone, entriesWant('entries', Date.now()), tx =>
    pointRows(tx, getQuery(event).away === 'true'),
  )
  return rows.map(row => ({ ...row, ...entriesOf(sums, row.key) }))
})
