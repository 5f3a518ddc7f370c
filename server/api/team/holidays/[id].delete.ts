import { defineEventHandler, sendNoContent } from 'h3'
import { removeHoliday } from '#db/house'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** These are working days again. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit plan')
  if (!(await removeHoliday(database(), idFrom(event))).count) throw problem(404, 'This is not there any more.')
  await changed({ site: true, colleagues: true })
  return sendNoContent(event)
})
