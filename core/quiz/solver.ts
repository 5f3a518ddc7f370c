import type { Highs } from 'highs'
import type { Solver } from '#core/quiz/suggest'

/** Longer nobody waits for weights; what was found by then is taken. */
const SECONDS = 5

/** HiGHS, an open solver of linear and mixed integer programs, as `suggestWeights` asks it. */
export const solverOf =
  (highs: Highs): Solver =>
  program => {
    const found = highs.solve(program, { time_limit: SECONDS, output_flag: false })
    if (found.Status !== 'Optimal' && found.Status !== 'Time limit reached') return null
    const values = new Map(Object.entries(found.Columns).map(([name, column]) => [name, (column as { Primal?: number }).Primal ?? NaN]))
    return [...values.values()].every(Number.isFinite) ? values : null
  }
