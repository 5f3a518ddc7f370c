import type { Attributes, Past } from '#core/conditions/condition'
import { attributesOf, type LeadState } from '#core/leads'
import { pastOf, personAttributes } from '#core/segments/person'
import type { Db } from '#db/client'
import { knownOf } from '#db/segments'
import type { Ruleset } from '#server/ruleset'

/** What conditions may ask of a lead. `past` only where some condition in use asks for it. */
export interface About { attributes: Attributes; past?: Past }

/** What the conditions in use may ask of these leads at a moment (milliseconds since 1970). */
export async function aboutLeads(db: Db, ruleset: Ruleset, leads: LeadState[], now: number): Promise<(lead: LeadState) => About> {
  const known = ruleset.needsHistory && leads.length ? await knownOf(db, leads.map(l => l.id)) : null
  return (lead) => {
    const own = known?.get(lead.id)
    return own ? { attributes: personAttributes(lead, own), past: pastOf(own.activities, now) } : { attributes: attributesOf(lead) }
  }
}
