import { defineEventHandler, getQuery } from 'h3'
import { movedLeads } from '#db/dry-run'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'
import { personMoved } from '#server/scoring/dry-run-view'
import { memberOf } from '#server/session'

const PAGE = 100
const MOST_PAGES = 100_000

/** The people of one cell: who goes from a label (`none`: without one) to another, who moves farthest first. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const { from, to, page: asked = '0' } = getQuery(event)
  const { labelOrder } = await cache.ruleset()
  const place = (label: unknown) => (label === 'none' ? 0 : labelOrder.indexOf(String(label)) + 1 || null)
  const [was, would, page] = [place(from), place(to), Number(asked)]
  if (was === null || would === null || !Number.isInteger(page) || page < 0 || page > MOST_PAGES)
    throw problem(422, 'Say from which label to which (a key, or “none”), and which page.')
  const rows = await movedLeads(sql, was, would, page * PAGE, PAGE + 1)
  return { people: rows.slice(0, PAGE).map(row => personMoved(row, labelOrder)), more: rows.length > PAGE }
})
