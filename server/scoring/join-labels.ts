import { joinedAreas, namesLabel, withLabel } from '#core/scoring/label-join'
import { vocabulary } from '#db/house'
import {
  addEdition,
  joinLabel,
  lockLabels,
  renameInDraft,
  renameInPlanDraft,
  renameInSegment,
  renameInWorkingCopy,
  takeOverAgain,
  whatNamesLabels,
} from '#db/labels'
import { addPlan } from '#db/routing'
import type { Sql } from '#db/client'
import { liveScorecard, scorecardDraft } from '#db/scoring'
import { problem } from '#server/problem'
import { readPlan } from '#core/routing/plan'

/** Kinds of live definitions that give a label by an action: what they give is read anew each time. Conditions are not. */
const actionsOnly = (definition: unknown): unknown =>
  JSON.parse(JSON.stringify(definition, (key, value: unknown) => (key === 'kind' && value === 'label' ? 'given' : value)) ?? 'null')

/**
 * Joins a label with another one, in everything that names it: the scorecard (as an edition of its own), the plan, segments, working
 * copies. Leads follow in the background.
 * @throws 404, 409 with what has to be changed first
 */
export async function joinLabels(sql: Sql, from: string, into: string, by: string): Promise<void> {
  await sql.begin(async tx => {
    await lockLabels(tx)
    const { labels } = await vocabulary(tx)
    const [gone, kept] = [from, into].map(key => labels.find(l => l.key === key))
    if (!gone || !kept) throw problem(404, 'There is no such label any more. Load the labels again.')
    if (from === into) throw problem(422, 'A label cannot be joined with itself.')
    const { segments, plan, planDraft, points } = await whatNamesLabels(tx)
    const asked = points.filter(p => namesLabel(actionsOnly(p.live), from)).map(p => `“${p.name}”`)
    if (asked.length)
      throw problem(409, `What is live of ${asked.join(', ')} asks for “${gone.name}”. Change that there, and make it live first.`)
    const [live, draft] = [await liveScorecard(tx), await scorecardDraft(tx)]
    for (const card of [live?.definition, draft?.definition])
      if (card && !joinedAreas(card, from, into))
        throw problem(
          409,
          `The areas of “${gone.name}” and “${kept.name}” overlap only in part, so no one area is both. Move a line on the scorecard first, and make it live.`,
        )

    await joinLabel(tx, from, into)
    if (live && live.definition.labels.some(l => l.label === from))
      await addEdition(tx, joinedAreas(live.definition, from, into), by, new Date())
    else await takeOverAgain(tx)
    if (draft && draft.definition.labels.some(l => l.label === from)) await renameInDraft(tx, joinedAreas(draft.definition, from, into))
    for (const s of segments) if (namesLabel(s.condition, from)) await renameInSegment(tx, s.id, withLabel(s.condition, from, into))
    for (const p of points) if (namesLabel(p.workingCopy, from)) await renameInWorkingCopy(tx, p.id, withLabel(p.workingCopy, from, into))
    if (plan && namesLabel(plan, from)) await addPlan(tx, readPlan(withLabel(plan, from, into)).plan!, new Date())
    if (planDraft && namesLabel(planDraft, from)) await renameInPlanDraft(tx, withLabel(planDraft, from, into))
  })
}
