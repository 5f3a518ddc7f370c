import { defineEventHandler } from 'h3'
import { experimentOf, variantsOf } from '#core/points/variants'
import { proportion } from '#core/stats/proportion'
import { rivals } from '#core/stats/rivals'
import type { ExperimentView } from '#core/team'
import { pointById } from '#db/points'
import { variantCounts } from '#db/variants'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** How the variants of the live edition do beside each other; no experiment where only one is live. */
export default defineEventHandler(async (event): Promise<ExperimentView> => {
  await memberOf(event)
  const point = await pointById(database(), idFrom(event))
  if (!point) throw problem(404, 'There is no such form.')
  const experiment = point.live && experimentOf(point.live.definition)
  if (!experiment) return { experiment: null, since: null, variants: [] }
  const counts = await variantCounts(database(), point.id, experiment)
  const arms = variantsOf(point.live!.definition).map(({ key }) => {
    const { seen = 0, answered = 0 } = counts.find(c => c.variant === key) ?? {}
    return { key, seen, answered }
  })
  const compared = rivals(arms.map(a => ({ hits: a.answered, trials: a.seen })))
  const since = counts.length ? new Date(Math.min(...counts.map(c => c.since.getTime()))).toISOString() : null
  return {
    experiment,
    since,
    variants: arms.map((a, i) => ({ ...a, rate: proportion(a.answered, a.seen), best: compared[i]!.best, loss: compared[i]!.loss })),
  }
})
