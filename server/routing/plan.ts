import { planChecks } from '#core/routing/checks'
import { firstPlan } from '#core/routing/edit'
import { readPlan, type RoutingPlan } from '#core/routing/plan'
import type { PlanView } from '#core/team'
import type { Sql } from '#db/client'
import { planDraft, planEditions } from '#db/routing'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

export const planChangedMeanwhile = () =>
  problem(409, 'Somebody else has changed the plan meanwhile. Load it again; what you changed is still here.')

/** The routing plan as those see it who work on it: the working copy, what is wrong with it, and what was live. */
export async function planView(sql: Sql, ruleset: Ruleset): Promise<PlanView> {
  const [draft, editions] = await Promise.all([planDraft(sql), planEditions(sql)])
  const live = editions[0]
  const asRead = (definition: unknown) => readPlan(definition).plan ?? firstPlan()
  const workingCopy = live || draft ? asRead((draft ?? live)!.definition) : firstPlan()
  return {
    name: '',
    workingCopy,
    revision: draft?.revision ?? 0,
    live: live
      ? { number: live.number, definition: asRead(live.definition), madeAt: live.madeAt.toISOString(), madeBy: live.madeBy }
      : null,
    editions: editions.map(e => ({ number: e.number, madeAt: e.madeAt.toISOString(), madeBy: e.madeBy })),
    changed: draft ? { at: draft.changedAt.toISOString(), by: draft.changedBy } : null,
    checks: checksOf(workingCopy, ruleset),
  }
}

const checksOf = (plan: RoutingPlan, ruleset: Ruleset) =>
  planChecks(plan, {
    properties: new Set(ruleset.properties.filter(p => !p.retired).map(p => p.key)),
    segments: new Set(ruleset.segmentNames.map(s => s.id)),
    lists: new Set(ruleset.lists.map(l => l.id)),
    people: ruleset.members,
    labels: new Set(ruleset.labelOrder),
    workingDays: ruleset.house.hours.week.flatMap((spans, i) => (spans.length ? [i + 1] : [])),
  })

/** A plan out of an untrusted value. @throws 422 with what is wrong */
export function planFrom(value: unknown): RoutingPlan {
  const { plan, flaws } = readPlan(value)
  if (!plan)
    throw problem(
      422,
      'Something in the plan cannot be kept; see the list.',
      flaws.map(f => ({ ...f, field: `definition.${f.field}` })),
    )
  return plan
}
