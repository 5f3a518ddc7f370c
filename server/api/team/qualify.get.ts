import { defineEventHandler } from 'h3'
import { labelsOf } from '#core/figures/readings'
import type { QualifyView } from '#core/team'
import { liveScorecard } from '#db/scoring'
import { applicationContext } from '#server/application-context'
import { readFigures } from '#server/consumers/figures'
import { memberOf } from '#server/session'

/** The live scorecard, and how many open leads carry each label. */
export default defineEventHandler(async (event): Promise<QualifyView> => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const { house, statuses } = await cache.ruleset()
  const [scorecard, { sums }] = await Promise.all([
    liveScorecard(sql),
    readFigures(sql, house.zone, [{ figure: 'standing' }], async () => {}),
  ])
  return { scorecard: (scorecard as unknown as QualifyView['scorecard'] | undefined) ?? null, counts: labelsOf(sums, statuses) }
})
