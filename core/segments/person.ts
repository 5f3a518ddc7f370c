import { holds, some, type Condition, type DeedKind, type Facts, type Past } from '#core/conditions'
import { factsOf, type LeadState } from '#core/leads'

/** Something that somebody did, and what conditions may ask of it. `at` in milliseconds since 1970. */
export interface PastDeed { kind: DeedKind; at: number; facts: Record<string, string | string[] | null | undefined> }
/** What is known of a lead beside the lead itself. Times are days, in UTC, as ISO 8601 writes them. */
export interface Known {
  lists: string[]; fit: number; interest: number; statusSince: string
  firstSource: string | null; latestSource: string | null; lastVisit: string | null
  deeds: PastDeed[]
}

/** Facts of a lead that stand in `Known`, not on the lead. */
const BESIDE = ['list', 'fit', 'interest', 'status_since', 'source.first', 'source.latest', 'last_visit', 'last_entry']

/** Whether judging a condition takes more than the lead alone. */
export const asksMore = (condition: Condition): boolean => some(condition, test => 'did' in test || BESIDE.includes(test.fact))

/** All that conditions may ask about a person. */
export function personFacts(lead: LeadState, known: Known): Facts {
  const own = factsOf(lead)
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
        const entries = known.deeds.filter(d => d.kind === 'entry')
        return entries.length ? new Date(Math.max(...entries.map(d => d.at))).toISOString().slice(0, 10) : null
      }
      default: return own(name)
    }
  }
}

const DAY = 86_400_000
/** What somebody did, as conditions ask for it. */
export const pastOf = (deeds: PastDeed[], now: number): Past => ({
  now,
  did: ({ did, where, times, days }) => deeds.filter(d => d.kind === did && (days === null || d.at >= now - days * DAY) && (!where || holds(where, name => Object.hasOwn(d.facts, name) ? d.facts[name] : undefined, { now, did: () => false }))).length >= times,
})

/** Whether a condition (segments written out) holds for a person at a moment. */
export const holdsFor = (condition: Condition, lead: LeadState, known: Known, now: number): boolean => holds(condition, personFacts(lead, known), pastOf(known.deeds, now))
