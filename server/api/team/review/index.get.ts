import { defineEventHandler } from 'h3'
import type { ReviewList } from '#core/review'
import { applicationContext } from '#server/application-context'
import { reviewList } from '#server/review/list'
import { memberOf } from '#server/session'

/** What waits for a person's judgement, and what was refused lately. */
export default defineEventHandler(async (event): Promise<ReviewList> => {
  await memberOf(event, 'judge entries')
  return await reviewList(applicationContext())
})
