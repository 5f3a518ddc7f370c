import { holds, some, type Condition, type ActivityKind, type Attributes, type Past } from '#core/conditions/condition'
import { attributesOf, type LeadState } from '#core/leads'

/** Something that somebody did, and what conditions may ask of it. `at` in milliseconds since 1970. */
export interface PastActivity { kind: ActivityKind; at: number; attributes: Record<string, string | string[] | null | undefined> }
/** What is known of a lead beside the lead itself. Times are days, in UTC, as ISO 8601 writes them. */
export interface Known {
  lists: string[]; fit: number; interest: number; statusSince: string
  firstSource: string | null; latestSource: string | null; lastVisit: string | null
  activities: PastActivity[]
}

/** Attributes of a lead that stand in `Known`, not on the lead. */
const BESIDE = ['list', 'fit', 'interest', 'status_since', 'source.first', 'source.latest', 'last_visit', 'last_entry']

/** Whether judging a condition takes more than the lead alone. */
export const needsHistory = (condition: Condition): boolean => some(condition, test => 'did' in test || BESIDE.includes(test.attribute))

/** All that conditions may ask about a person. */
export function personAttributes(lead: LeadState, known: Known): Attributes {
  const own = attributesOf(lead)
  return (name) => {
    switch (name) {
      case 'list': return known.lists
      case 'fit': return known.fit
      case 'interest': return known.interest
      case 'status_since': return known.statusSince
      case 'source.first': return known.firstSource
      case 'source.latest': return known.latestSource
      case 'last_visit': return known.lastVisit
      case 'last_entry': {
        const entries = known.activities.filter(d => d.kind === 'entry')
        return entries.length ? new Date(Math.max(...entries.map(d => d.at))).toISOString().slice(0, 10) : null
      }
      default: return own(name)
    }
  }
}

const DAY = 86_400_000
/** What somebody did, as conditions ask for it. */
export const pastOf = (activities: PastActivity[], now: number): Past => ({
  now,
  did: ({ did, where, times, days }) => activities.filter(d => d.kind === did && (days === null || d.at >= now - days * DAY) && (!where || holds(where, name => Object.hasOwn(d.attributes, name) ? d.attributes[name] : undefined, { now, did: () => false }))).length >= times,
})

/** Whether a condition (segments written out) holds for a person at a moment. */
export const holdsFor = (condition: Condition, lead: LeadState, known: Known, now: number): boolean => holds(condition, personAttributes(lead, known), pastOf(known.activities, now))
