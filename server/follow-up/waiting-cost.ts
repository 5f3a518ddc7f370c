import { promised } from '#core/follow-up/promise'
import { learnWaitingCost, type WaitingCost } from '#core/follow-up/waiting-cost'
import { workingMinutes } from '#core/working-time'
import type { Db } from '#db/client'
import { answeredEnds } from '#db/waiting-cost'
import type { Ruleset } from '#server/ruleset'

/** Ends of so many days, and so many of them, say what waiting costs. */
const DAYS = 365
const MOST = 4000
/** What was learned of ends stays true for a while. */
const FRESH_MS = 15 * 60_000

let kept: { at: number; labels: string; cost: Promise<WaitingCost> } | undefined

/** What waiting costs in this house, as its ends of the last year tell; worked out anew every quarter of an hour, and where labels change. */
export function waitingCost(sql: Db, ruleset: Ruleset, now: number): Promise<WaitingCost> {
  const labels = ruleset.labelOrder.join()
  if (kept && now - kept.at < FRESH_MS && kept.labels === labels) return kept.cost
  const cost = learn(sql, ruleset, now)
  kept = { at: now, labels, cost }
  // What failed is tried again by whoever asks next.
  cost.catch(() => {
    kept = undefined
  })
  return cost
}

async function learn(sql: Db, ruleset: Ruleset, now: number): Promise<WaitingCost> {
  const rows = await answeredEnds(sql, new Date(now - DAYS * 86_400_000), MOST)
  const ends = rows.map(({ owner, lane, label, since, at, won }) => {
    const hours = (owner !== null && ruleset.members.get(owner)?.hours) || ruleset.house.hours
    return { label, won, promises: workingMinutes(since.getTime(), at.getTime(), hours) / promised(ruleset, label, lane) }
  })
  return learnWaitingCost(ends, ruleset.labelOrder)
}
