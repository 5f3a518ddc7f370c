import { defineEventHandler } from 'h3'
import { planNumbered } from '#db/routing'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { MOST_REVISION } from '#server/wire'

/** An edition of the plan as it was, to be looked at or taken as the working copy again. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const number = Number(event.context.params?.number)
  const edition = Number.isInteger(number) && number > 0 && number <= MOST_REVISION ? await planNumbered(database(), number) : undefined
  if (!edition) throw problem(404, 'There is no such edition of the plan.')
  return { number: edition.number, definition: edition.definition, madeAt: edition.madeAt.toISOString(), madeBy: edition.madeBy }
})
