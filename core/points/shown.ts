import { holds, type Condition, type Facts } from '#core/conditions'
import type { Answers } from '#core/points/definition'

/** What conditions may ask of the answers so far: facts `answer.<key>`. */
export const answerFacts = (answers: Answers): Facts => name => name.startsWith('answer.') && Object.hasOwn(answers, name.slice(7)) ? answers[name.slice(7)] : undefined

/** Whether a question is asked, after the answers before it. */
export const isShown = (q: { shownIf?: Condition | null }, answers: Answers): boolean => !q.shownIf || holds(q.shownIf, answerFacts(answers))
