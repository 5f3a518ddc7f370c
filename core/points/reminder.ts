import type { Answers, PointDefinition, Question } from '#core/points/definition'

export type { Reminder } from '#core/points/shapes/rules'

/** The words that were ticked in what was typed and that allow mails. Ticking is agreeing, also where the rest was left. */
export const agreedIn = (questions: Question[], answers: Answers): Question[] =>
  questions.filter(q => q.kind === 'consent' && q.allows.length > 0 && answers[q.key] !== undefined)

/**
 * Whether somebody who began and left may be written to: the house allows it, they agreed, here or in an entry before, and have
 * not left the mails since.
 */
export const mayRemind = (
  definition: PointDefinition,
  answers: Answers,
  known: { allowed: boolean; agreedBefore: boolean; unsubscribed: boolean },
): boolean =>
  definition.reminder !== null &&
  known.allowed &&
  !known.unsubscribed &&
  (known.agreedBefore || agreedIn(definition.questions, answers).length > 0)
