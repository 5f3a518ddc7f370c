import { defineEventHandler } from 'h3'
import { labelCounts, spots } from '#db/reports'
import { liveScorecard } from '#db/scoring'
import { database } from '#server/database'
import { memberOf } from '#server/session'

const MOST_SPOTS = 1500

/** The live scorecard, and where the open leads stand on it. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const db = database()
  const [scorecard, leads, counts] = await Promise.all([liveScorecard(db), spots(db, MOST_SPOTS), labelCounts(db)])
  return { scorecard: scorecard ?? null, leads, counts }
})
