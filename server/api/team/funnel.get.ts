import { defineEventHandler } from 'h3'
import { funnelOf, funnelWants } from '#core/figures/readings'
import { applicationContext } from '#server/application-context'
import { readFigures } from '#server/consumers/figures'
import { memberOf } from '#server/session'

/** The figures of the course for a member. */
export default defineEventHandler(async event => {
  const { id } = await memberOf(event)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const { sums } = await readFigures(sql, ruleset.house.zone, funnelWants(Date.now()), async () => {})
  return funnelOf(sums, ruleset, id)
})
