import type { LeadCause } from '#core/leads/causes'
import type { Tx } from '#db/client'
import { changeLeads } from '#server/ingest/change'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

/** Something a person does about a lead. Each stands in the timeline; all but a change of owner answer who waits. */
export type LeadAct =
  | { do: 'status'; status: string }
  | { do: 'owner'; owner: string }
  | { do: 'note'; text: string }
  | { do: 'next_step'; step: { text: string; due: Date } | null; done?: boolean }
  | { do: 'lists'; lists: string[] }

/**
 * Carries an act out in the transaction at hand.
 * @throws 404 without such a lead, 422 for a status or a person that does not exist
 */
export async function carryOut(tx: Tx, ruleset: Ruleset, lead: string, actor: string, act: LeadAct, at: Date): Promise<void> {
  const cause = causeOf(ruleset, act)
  const [step] = await changeLeads(tx, ruleset, [{ at: at.getTime(), by: actor, lead, ...cause } as LeadCause])
  if (!step) throw problem(404, 'There is no such lead.')
}

function causeOf(ruleset: Ruleset, act: LeadAct) {
  switch (act.do) {
    case 'status':
      if (!ruleset.statuses.some(s => s.key === act.status)) throw problem(422, 'There is no such status.', [{ field: 'status', message: 'Choose one of the statuses of the house.' }])
      return { kind: 'status' as const, status: act.status }
    case 'owner':
      if (!ruleset.members.has(act.owner)) throw problem(422, 'There is no such colleague.', [{ field: 'owner', message: 'Choose somebody who works here.' }])
      return { kind: 'owner' as const, owner: act.owner }
    case 'note': return { kind: 'note' as const, text: act.text }
    case 'next_step':
      return { kind: 'next_step' as const, step: act.step && { text: act.step.text, due: act.step.due.getTime() }, ...(act.done && { done: true }) }
    // Lists that there are not are passed over.
    case 'lists': return { kind: 'lists' as const, lists: act.lists.filter(id => ruleset.lists.some(l => l.id === id)) }
  }
}
