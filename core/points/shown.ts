import { holds, type Condition } from '#core/conditions'
import type { Answers } from '#core/points/definition'

/** Whether a question is asked, after the answers before it: facts `answer.<key>`. */
export const isShown = (q: { shownIf?: Condition | null }, answers: Answers): boolean =>
  !q.shownIf || holds(q.shownIf, name => name.startsWith('answer.') ? answers[name.slice(7)] : undefined)
