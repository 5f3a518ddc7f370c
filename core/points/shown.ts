import { holds, type Condition, type Attributes } from '#core/conditions/condition'
import type { Answers } from '#core/points/answer'

/** What conditions may ask of the answers so far: attributes `answer.<key>`. */
export const answerAttributes =
  (answers: Answers): Attributes =>
  name =>
    name.startsWith('answer.') && Object.hasOwn(answers, name.slice(7)) ? answers[name.slice(7)] : undefined

/** Whether a question is asked, after the answers before it. */
export const isShown = (q: { shownIf?: Condition | null }, answers: Answers): boolean =>
  !q.shownIf || holds(q.shownIf, answerAttributes(answers))
