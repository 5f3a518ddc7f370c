import { defineEventHandler } from 'h3'
import { countLeads } from '#db/lead-list'
import { applicationContext } from '#server/application-context'
import { readingsFor, readTeamFilter } from '#server/follow-up/listing'
import { memberOf } from '#server/session'

/** How many leads the filters of a list fit. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { filter, impossible } = readTeamFilter(event, [], await applicationContext().cache.ruleset())
  return impossible ? { total: 0, more: false } : countLeads(readingsFor(filter), filter)
})
