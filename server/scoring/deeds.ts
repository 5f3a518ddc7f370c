import type { Anew } from '#core/leads/causes'
import { clickedActivity, entryActivity } from '#core/scoring/activities'
import type { DeedKind } from '#core/scoring/deeds'
import type { Activity } from '#core/scoring/score'
import type { Scorecard } from '#core/scoring/scorecard'
import type { Db } from '#db/client'
import { entryDeeds, otherDeeds, trailDeeds } from '#db/deeds'
import { trailActivity } from '#server/trail/activities'

/** What some leads did, of some kinds, as scorecards judge it; a fixed number of statements. */
export async function activitiesOfLeads(db: Db, leads: string[], kinds: ReadonlySet<DeedKind>): Promise<Map<string, Activity[]>> {
  const trail = (['page_view', 'event'] as const).filter(k => kinds.has(k))
  const [entries, trails, others] = await Promise.all([
    kinds.has('entry') ? entryDeeds(db, leads) : [],
    trail.length ? trailDeeds(db, leads, trail) : [],
    kinds.has('clicked') || kinds.has('meeting') ? otherDeeds(db, leads) : [],
  ])
  const all = new Map<string, Activity[]>()
  const add = (lead: string, activity: Activity) => {
    const own = all.get(lead)
    if (own) own.push(activity)
    else all.set(lead, [activity])
  }
  for (const { leadId, at, key, name, answers, result } of entries) add(leadId, entryActivity(at, { key, name }, answers, result))
  for (const { leadId, ...row } of trails) add(leadId, trailActivity(row))
  for (const { leadId, at, kind, subject } of others)
    add(leadId, kind === 'clicked' ? clickedActivity(at, subject ?? '') : { kind, at, attributes: () => undefined })
  return all
}

/** What each of some leads did, for the rules of a card that earn anew; without any, nothing is asked. */
export async function anewFor(
  db: Db,
  leads: string[],
  card: Scorecard,
  rules: ReadonlySet<string>,
): Promise<(lead: string) => Anew | undefined> {
  if (!rules.size) return () => undefined
  const activities = await activitiesOfLeads(db, leads, new Set(card.interest.filter(r => rules.has(r.key)).map(r => r.on)))
  return lead => ({ rules, activities: activities.get(lead) ?? [] })
}
