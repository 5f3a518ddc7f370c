import { defineEventHandler, setResponseStatus } from 'h3'
import { setCalendarKey } from '#db/calendar'
import { applicationContext } from '#server/application-context'
import { memberOf } from '#server/session'

/** One's own calendar is read from outside no more. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  await setCalendarKey(applicationContext().sql, member.id, null)
  setResponseStatus(event, 204)
  return null
})
