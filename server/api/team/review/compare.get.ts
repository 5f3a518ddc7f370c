import { defineEventHandler, getQuery } from 'h3'
import type { Comparison } from '#core/review'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'
import { compare } from '#server/review/compare'
import { memberOf } from '#server/session'

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i

/** Two leads side by side, property by property: `?a=ID&b=ID`. */
export default defineEventHandler(async (event): Promise<Comparison> => {
  await memberOf(event, 'judge entries')
  const { a, b } = getQuery(event)
  if (typeof a !== 'string' || typeof b !== 'string' || !UUID.test(a) || !UUID.test(b) || a.toLowerCase() === b.toLowerCase())
    throw problem(400, 'Name two leads by their ids: ?a=…&b=…')
  const { sql, cache } = applicationContext()
  const compared = await compare(sql, await cache.ruleset(), a, b)
  if (!compared) throw problem(404, 'One of the two is not there any more: somebody else has joined them, or it was erased.')
  return compared
})
