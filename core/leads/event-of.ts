import type { LeadEvent } from '#core/events/event'
import type { Step } from '#core/leads/book'

/**
 * The event that a step makes, the lead's next; none where nothing about the lead is another than before and nobody acted.
 * @param card the number of the scorecard's edition by which it was judged
 */
export function eventOf(step: Step, card: number): LeadEvent | null {
  const { lead, cause, at, actor, changes, score } = step
  if (!step.fresh && !step.changed && !step.scored && !Object.keys(changes).length) return null
  lead.version++
  return { lead: lead.id, version: lead.version, at, cause, actor, changes, fit: score.fit, interest: score.sum, card }
}
