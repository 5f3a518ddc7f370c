import { actionsOf } from '#core/actions/edit'
import { segmentsIn } from '#core/segments/segment'
import { liveDefinitions } from '#db/points'
import type { Db } from '#db/client'
import { livePlan } from '#db/routing'
import { liveScorecard } from '#db/scoring'
import { segments } from '#db/segments'

/** Where segments are asked for: by their ids, what asks, in words. */
export async function usesOfSegments(db: Db): Promise<Map<string, string[]>> {
  const [all, card, plan, points] = await Promise.all([segments(db), liveScorecard(db), livePlan(db), liveDefinitions(db)])
  const uses = new Map<string, string[]>()
  const note = (condition: Parameters<typeof segmentsIn>[0] | null, by: string) => {
    for (const id of condition ? segmentsIn(condition) : []) uses.set(id, [...new Set([...(uses.get(id) ?? []), by])])
  }
  for (const s of all) note(s.condition, `the segment “${s.name}”`)
  for (const rule of [...(card?.definition.fit ?? []), ...(card?.definition.interest ?? [])]) note(rule.when, `the score “${rule.name}”`)
  for (const lane of plan?.definition.lanes ?? []) note(lane.when, `the lane “${lane.name}”`)
  for (const { name, definition } of points) {
    note(definition.display.audience, `who sees “${name}”`)
    if (definition.guards.hold) note(definition.guards.when ?? null, `which entries of “${name}” are held`)
    for (const mail of actionsOf(definition, 'mail')) note(mail.when, `a mail of “${name}”`)
    for (const tell of actionsOf(definition, 'tell')) note(tell.when, `who is told of “${name}”`)
  }
  return uses
}
