import type { PlanRunView } from '#core/team'
import type { Sql } from '#db/client'
import { planRun } from '#db/plan-run'
import { planView } from '#server/routing/plan'
import { pacesOf } from '#server/routing/plan-run'
import type { Ruleset } from '#server/ruleset'

/** The dry run of the plan as those see it who work on it. */
export async function planRunView(sql: Sql, ruleset: Ruleset, now: number): Promise<PlanRunView> {
  const [run, plan, paces] = await Promise.all([planRun(sql), planView(sql, ruleset), pacesOf(sql, ruleset, now)])
  return {
    revision: plan.revision,
    paces,
    run: run
      ? {
          id: run.id,
          at: run.at.toISOString(),
          by: run.madeBy,
          days: run.days,
          speed: run.speed,
          state: run.state,
          total: run.total,
          done: run.done,
          problem: run.problem,
          result: run.result,
          isCurrent: run.revision === plan.revision && run.edition === (plan.live?.number ?? 0),
        }
      : null,
  }
}
