import { defineEventHandler } from 'h3'
import { waitingForReview } from '#db/review'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** How many wait for somebody to judge. */
export default defineEventHandler(async event => {
  await memberOf(event, 'judge entries')
  return { waiting: await waitingForReview(database()) }
})
