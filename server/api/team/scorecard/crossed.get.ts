import { defineEventHandler } from 'h3'
import type { CrossedLine } from '#core/team'
import { crossedLately, type CrossedRow } from '#db/timeline'
import { database } from '#server/database'
import { memberOf } from '#server/session'

const DAYS = 7
const MOST = 12

/** What brought somebody to another label, in a few words. */
function whyOf({ cause, point, card }: CrossedRow): string {
  if (point) return `filled in “${point}”`
  if (cause === 'due') return 'interest faded'
  if (cause === 'activities') return 'was on the site'
  if (cause === 'ruleset') return `edition ${card} took effect`
  return cause === 'clicked' ? 'followed a link of a mail' : 'what is known changed'
}

/** Open leads that have just crossed a line, and why. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const rows = await crossedLately(database(), new Date(Date.now() - DAYS * 86_400_000), MOST)
  return {
    crossed: rows.map((r): CrossedLine => ({ lead: r.lead, name: r.name, at: r.at.toISOString(), from: r.from, to: r.to, why: whyOf(r) })),
  }
})
