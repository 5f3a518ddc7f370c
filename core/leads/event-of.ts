import type { LeadEvent } from '#core/events/event'
import { countedAfter, facetsOf, type Counting } from '#core/figures/facets'
import { changedSince } from '#core/follow-up/undo'
import type { Step } from '#core/leads/book'

/**
 * The event that a step makes, the lead's next; none where nothing about the lead is another than before and nobody acted.
 * @param card the number of the scorecard's edition by which it was judged
 * @param counting what passages and labels mean for figures
 */
export function eventOf(step: Step, card: number, counting: Counting): LeadEvent | null {
  const { lead, cause, at, actor, changes, score } = step
  if (!step.fresh && !step.changed && !step.scored && !Object.keys(changes).length) return null
  lead.version++
  lead.counted = countedAfter(lead.counted, changes, at, counting)
  const undo = step.before && changedSince(step.before, lead)
  return {
    ...(undo && { undo }),
    ...(step.undone !== null && { undone: step.undone }),
    lead: lead.id,
    version: lead.version,
    at,
    cause,
    actor,
    changes,
    fit: score.fit,
    interest: score.sum,
    card,
    facets: facetsOf(lead),
  }
}
