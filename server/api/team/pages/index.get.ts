import { defineEventHandler, getQuery } from 'h3'
import { entriesOf, entriesWant } from '#core/figures/readings'
import { pageRows } from '#db/points'
import { applicationContext } from '#server/application-context'
import { readFigures } from '#server/consumers/figures'
import { memberOf } from '#server/session'

/** All landing pages and how they do. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const { house } = await cache.ruleset()
  const { sums, more: rows } = await readFigures(sql, house.zone, entriesWant('landings', Date.now()), tx =>
    pageRows(tx, getQuery(event).away === 'true'),
  )
  return rows.map(row => ({ ...row, ...entriesOf(sums, row.id) }))
})
