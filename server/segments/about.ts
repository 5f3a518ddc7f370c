import type { Condition } from '#core/conditions/condition'
import type { Judged } from '#core/conditions/judge'
import { judgeLead } from '#core/leads/about'
import type { LeadState } from '#core/leads/lead'
import { needsNothing, nothingBeside } from '#core/leads/needs'
import { besideLeads } from '#db/beside'
import type { Db } from '#db/client'
import type { Ruleset } from '#server/ruleset'

/** How the conditions in use are judged for these leads at a moment (milliseconds since 1970). Who is new has nothing beside. */
export async function judgeOf(
  db: Db,
  ruleset: Ruleset,
  leads: LeadState[],
  now: number,
): Promise<(lead: LeadState) => (condition: Condition) => Judged> {
  const { needs } = ruleset
  const who = leads.map(l => l.id)
  const loaded =
    needsNothing(needs) || !who.length ? new Map() : await besideLeads(db, db`select id from unnest(${who}::uuid[]) as id`, needs, now)
  return lead => {
    const about = { lead, beside: loaded.get(lead.id) ?? nothingBeside(needs), now, halfLifeDays: ruleset.scorecard.halfLifeDays }
    return condition => judgeLead(condition, about)
  }
}
