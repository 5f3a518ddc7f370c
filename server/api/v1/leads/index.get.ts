import { defineEventHandler } from 'h3'
import { leadsAfter } from '#db/leads'
import { requireKey } from '#server/api-keys'
import { applicationContext } from '#server/application-context'
import { readCursor, writeCursor } from '#server/follow-up/cursor'
import { readFilter, wholeNumber } from '#server/follow-up/listing'
import { publicLead } from '#server/follow-up/view'

export default defineEventHandler(async event => {
  await requireKey(event, 'leads:read')
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const { filter, query, impossible } = readFilter(event, ['cursor', 'limit'], ruleset.segments)
  const most = wholeNumber(query.limit, 'limit', 50, 1, 200)
  const after = readCursor(query.cursor)
  if (impossible) return { leads: [], next: null }
  const rows = await leadsAfter(sql, filter, after, most + 1)
  const page = rows.slice(0, most)
  return {
    leads: page.map(row => publicLead(row, ruleset, Date.now())),
    next: rows.length > most ? writeCursor({ at: page.at(-1)!.position, id: page.at(-1)!.id }) : null,
  }
})
