import { defineEventHandler } from 'h3'
import { readScorecard } from '#core/scoring/scorecard'
import { scorecardNumbered } from '#db/scoring'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { MOST_REVISION } from '#server/wire'

/** An edition of the scorecard as it was, to be looked at or taken as the working copy again. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const number = Number(event.context.params?.number)
  const edition =
    Number.isInteger(number) && number > 0 && number <= MOST_REVISION ? await scorecardNumbered(database(), number) : undefined
  const definition = edition && readScorecard(edition.definition).scorecard
  if (!edition || !definition) throw problem(404, 'There is no such edition of the scorecard.')
  return { number: edition.number, definition, madeAt: edition.madeAt.toISOString(), madeBy: edition.madeBy }
})
