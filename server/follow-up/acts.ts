import type { TimelineKind, TimelinePayloads } from '#core/timeline'
import { insertTimeline } from '#db/capture'
import type { Tx } from '#db/client'
import { lockLead, reacted, setNextStep, setOwner, setStatus } from '#db/leads'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

/** Something a person does about a lead. Each stands in the timeline; all but a change of owner answer who waits. */
export type LeadAct =
  | { do: 'status'; status: string }
  | { do: 'owner'; owner: string }
  | { do: 'note'; text: string }
  | { do: 'next_step'; step: { text: string; due: Date } | null; done?: boolean }

/**
 * Carries an act out in the transaction at hand.
 * @throws 404 without such a lead, 422 for a status or a person that does not exist
 */
export async function carryOut(tx: Tx, ruleset: Ruleset, lead: string, actor: string, act: LeadAct, at: Date): Promise<void> {
  const now = await lockLead(tx, lead)
  if (!now) throw problem(404, 'There is no such lead.')
  if (act.do === 'status') {
    if (!ruleset.statuses.some(s => s.key === act.status)) throw problem(422, 'There is no such status.', [{ field: 'status', message: 'Choose one of the statuses of the house.' }])
    // Setting the status that already stands is still an answer to who waits, but no news.
    if (act.status === now.status) return void await reacted(tx, lead, at)
    await setStatus(tx, lead, act.status, at)
    await tell(tx, lead, actor, at, 'status', { from: now.status, to: act.status })
  } else if (act.do === 'owner') {
    if (!ruleset.members.has(act.owner)) throw problem(422, 'There is no such colleague.', [{ field: 'owner', message: 'Choose somebody who works here.' }])
    if (act.owner === now.ownerId) return
    await setOwner(tx, lead, act.owner, at)
    await tell(tx, lead, actor, at, 'owner', { from: now.ownerId, to: act.owner, by: 'person' })
  } else if (act.do === 'note') {
    await reacted(tx, lead, at)
    await tell(tx, lead, actor, at, 'note', { text: act.text })
  } else {
    if (!act.step && !now.nextStep) return
    await setNextStep(tx, lead, act.step, at)
    await tell(tx, lead, actor, at, 'next_step', {
      text: act.step?.text ?? null, due: act.step?.due.toISOString() ?? null, ...(now.nextStep && { was: now.nextStep }), ...(act.done && { done: true }),
    })
  }
}

async function tell<K extends TimelineKind>(tx: Tx, lead: string, actor: string, at: Date, kind: K, payload: TimelinePayloads[K]): Promise<void> {
  await insertTimeline(tx, [{ id: newId(at.getTime()), lead, at: at.getTime(), kind, actor, payload } as never])
}
