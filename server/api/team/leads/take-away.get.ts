import { defineEventHandler } from 'h3'
import { applicationContext } from '#server/application-context'
import { tableReadings } from '#server/database'
import { readTeamFilter } from '#server/follow-up/listing'
import { memberOf } from '#server/session'
import { leadsSheet } from '#server/take-away/leads'
import { formatOf, sendSheets } from '#server/take-away/send'

/** The leads of the list with its filters, also those of a segment or of a list, to take away: `as` csv or xlsx. What is sensitive stays here. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const ruleset = await applicationContext().cache.ruleset()
  const { filter, query, impossible } = readTeamFilter(event, ['as', 'sort', 'order', 'from', 'size'], ruleset)
  const format = formatOf(query.as)
  const sheet = leadsSheet(tableReadings(), filter, ruleset, Date.now())
  return await sendSheets(event, format, 'Leads', [impossible ? { ...sheet, rows: [] } : sheet])
})
