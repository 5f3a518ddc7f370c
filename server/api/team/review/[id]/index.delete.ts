import { defineEventHandler, sendNoContent } from 'h3'
import { dropFromReview } from '#db/review'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

export default defineEventHandler(async (event) => {
  await memberOf(event, 'judge entries')
  if (!await dropFromReview(database(), idFrom(event))) throw problem(404, 'This entry is not waiting any more. Somebody else has dealt with it.')
  await say(database(), { review: true })
  return sendNoContent(event)
})
