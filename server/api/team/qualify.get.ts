import { defineEventHandler } from 'h3'
import { labelsOf } from '#core/figures/readings'
import { spots } from '#db/reports'
import { liveScorecard } from '#db/scoring'
import { applicationContext } from '#server/application-context'
import { readFigures } from '#server/consumers/figures'
import { memberOf } from '#server/session'

const MOST_SPOTS = 1500

/** The live scorecard, and where the open leads stand on it. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const { house, statuses } = await cache.ruleset()
  const [scorecard, leads, { sums }] = await Promise.all([liveScorecard(sql), spots(sql, MOST_SPOTS), readFigures(sql, house.zone, [{ figure: 'standing' }], async () => {})])
  return { scorecard: scorecard ?? null, leads, counts: labelsOf(sums, statuses) }
})
