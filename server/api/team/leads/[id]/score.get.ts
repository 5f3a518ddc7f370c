import { defineEventHandler } from 'h3'
import { leadById } from '#db/leads'
import { applicationContext } from '#server/application-context'
import { scoreCourse } from '#server/follow-up/score-course'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** A lead's score over its life: what it was behind each event, from which any moment can be worked out. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const row = await leadById(sql, idFrom(event))
  if (!row) throw problem(404, 'There is no such lead.')
  return scoreCourse(sql, await cache.ruleset(), row, Date.now())
})
