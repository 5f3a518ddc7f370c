import { defineEventHandler } from 'h3'
import { loadsOf } from '#core/figures/readings'
import { gotLately, livePlan, turns, waitLongest } from '#db/routing'
import { applicationContext } from '#server/application-context'
import { readFigures } from '#server/consumers/figures'
import { memberOf } from '#server/session'

/** The live routing plan, its turns, and what each owner has in hand. */
export default defineEventHandler(async (event) => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const { house, statuses } = await cache.ruleset()
  const { sums, more: [plan, given, lately, longest] } = await readFigures(sql, house.zone, [{ figure: 'standing' }], tx => Promise.all([livePlan(tx), turns(tx), gotLately(tx), waitLongest(tx)]))
  const loads = [...loadsOf(sums, statuses)].map(([memberId, load]) => ({
    memberId, ...load, week: lately.find(l => l.memberId === memberId)?.week ?? 0, oldestWaiting: longest.find(l => l.memberId === memberId)?.oldestWaiting ?? null,
  }))
  return { plan: plan ?? null, turns: given, loads }
})
