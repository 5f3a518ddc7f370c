import { defineEventHandler } from 'h3'
import { leadsByStatus } from '#db/statuses'
import { applicationContext } from '#server/application-context'
import { memberOf } from '#server/session'

/** How many leads have each status, by its key. */
export default defineEventHandler(async event => {
  await memberOf(event)
  return Object.fromEntries(await leadsByStatus(applicationContext().sql))
})
