import { DateTime } from 'luxon'
import { defineEventHandler } from 'h3'
import type { RuleUse } from '#core/team'
import { ruleUses } from '#db/scoring'
import { applicationContext } from '#server/application-context'
import { longReadings } from '#server/database'
import { memberOf } from '#server/session'

/** What is read through all leads is read so often at most. */
const KEPT_MS = 20_000
let kept: { uses: Promise<Record<string, RuleUse>>; until: number } | null = null

async function read(zone: string): Promise<Record<string, RuleUse>> {
  const rows = await ruleUses(longReadings(), DateTime.now().setZone(zone).startOf('month').toJSDate())
  return Object.fromEntries(rows.map(({ rule, leads, points }) => [rule, { leads, points: Math.round(points) }]))
}

/** What each rule does now, by its key. */
export default defineEventHandler(async event => {
  await memberOf(event)
  if (!kept || Date.now() > kept.until) {
    const { house } = await applicationContext().cache.ruleset()
    const uses = read(house.zone)
    kept = { uses, until: Date.now() + KEPT_MS }
    // What could not be read is not kept.
    uses.catch(() => {
      kept = null
    })
  }
  return { uses: await kept.uses }
})
