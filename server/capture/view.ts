import { IsObject, IsOptional, IsString, IsUUID, IsUrl, MaxLength } from 'class-validator'
import { factsOf } from '#core/leads'
import { labelFor } from '#core/scoring/labels'
import { scoreAt, withDeeds } from '#core/scoring/score'
import { insertTimeline, leadForUpdate, rewriteScores } from '#db/capture'
import type { Tx } from '#db/client'
import { addPageView, leadOfVisitor, type PageView } from '#db/trail'
import { pageViewDeed } from '#server/capture/accept'
import { newId } from '#server/ids'
import type { Standing } from '#server/standing'

/** A page view as a browser sends it, after its visitor has agreed. */
export class ViewBody {
  @IsUUID() id!: string
  @IsUUID() visitor!: string
  @IsUUID() visit!: string
  @IsUrl({ require_tld: false, require_protocol: true, protocols: ['http', 'https'] }) @MaxLength(4000) page!: string
  @IsOptional() @IsString() @MaxLength(300) title?: string | null
  @IsOptional() @IsString() @MaxLength(4000) referrer?: string | null
  @IsOptional() @IsObject() utm?: Record<string, unknown> | null
}

/**
 * Keeps a page view. When the browser's person is known, it earns interest at once.
 * @returns the lead whose screen changes, if any
 */
export async function keepView(tx: Tx, standing: Standing, view: PageView): Promise<string | null> {
  const lead = await leadOfVisitor(tx, view.visitor)
  if (!await addPageView(tx, view, lead) || !lead) return null
  const state = await leadForUpdate(tx, lead)
  if (!state) return null
  const at = view.at.getTime()
  state.reasons = withDeeds(standing.scorecard, state.reasons, factsOf(state), [pageViewDeed(at, view.path, view.title)], at)
  await relabel(tx, standing, [state], at)
  return lead
}

/** Works out score and label of leads at a moment and writes them; tells the timeline when a label changes. */
export async function relabel(tx: Tx, standing: Standing, leads: NonNullable<Awaited<ReturnType<typeof leadForUpdate>>>[], at: number): Promise<string[]> {
  const { scorecard, labelOrder } = standing
  const changed: string[] = []
  const written = leads.map((lead) => {
    const { fit, interest } = scoreAt(lead.reasons, at, scorecard.halfLifeDays)
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
