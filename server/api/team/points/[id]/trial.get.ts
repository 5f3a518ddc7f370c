import { defineEventHandler } from 'h3'
import { trialOf, wordingsOf } from '#core/points/wordings'
import { proportion } from '#core/stats/proportion'
import { rivals } from '#core/stats/rivals'
import type { TrialView } from '#core/team'
import { pointById } from '#db/points'
import { trialCounts } from '#db/wordings'
import { database } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** How the wordings of the live edition do beside each other; no trial where only one is live. */
export default defineEventHandler(async (event): Promise<TrialView> => {
  await memberOf(event)
  const point = await pointById(database(), idFrom(event))
  if (!point) throw problem(404, 'There is no such form.')
  const trial = point.live && trialOf(point.live.definition)
  if (!trial) return { trial: null, since: null, wordings: [] }
  const counts = await trialCounts(database(), point.id, trial)
  const arms = wordingsOf(point.live!.definition).map(({ key }) => {
    const { seen = 0, answered = 0 } = counts.find(c => c.wording === key) ?? {}
    return { key, seen, answered }
  })
  const compared = rivals(arms.map(a => ({ hits: a.answered, trials: a.seen })))
  const since = counts.length ? new Date(Math.min(...counts.map(c => c.since.getTime()))).toISOString() : null
  return { trial, since, wordings: arms.map((a, i) => ({ ...a, rate: proportion(a.answered, a.seen), best: compared[i]!.best, loss: compared[i]!.loss })) }
})
