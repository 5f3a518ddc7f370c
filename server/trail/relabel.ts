import { labelFor } from '#core/scoring/labels'
import { totalsAt } from '#core/scoring/score'
import { insertTimeline, rewriteScores } from '#db/capture'
import type { leadForUpdate } from '#db/capture'
import type { Tx } from '#db/client'
import { newId } from '#server/ids'
import type { Ruleset } from '#server/ruleset'

/** Works out score and label of leads at a moment and writes them; tells the timeline when a label changes. */
export async function relabel(tx: Tx, ruleset: Ruleset, leads: NonNullable<Awaited<ReturnType<typeof leadForUpdate>>>[], at: number): Promise<string[]> {
  const { scorecard, labelOrder } = ruleset
  const changed: string[] = []
  const written = leads.map((lead) => {
    const { fit, interest } = totalsAt(lead.reasons, at, scorecard.halfLifeDays)
    const { label, because } = labelFor(scorecard.labels, labelOrder, fit, interest, lead.labelFloor)
    const from = lead.label
    lead.label = label
    if (from !== label) changed.push(lead.id)
    return { lead, stored: { fit, interest }, changed: from !== label, from, because }
  })
  await rewriteScores(tx, written, new Date(at))
  await insertTimeline(tx, written.filter(w => w.changed).map(w => ({
    id: newId(at), lead: w.lead.id, at, kind: 'label', actor: null, payload: { from: w.from, to: w.lead.label, because: w.because, ...w.stored },
  })))
  return changed
}
