import { holds } from '#core/conditions/condition'
import type { Answers } from '#core/points/definition'
import { answerAttributes, isShown } from '#core/points/shown'
import type { Condition } from '#core/conditions/condition'
import type { Branch } from '#core/quiz/shapes'

/** What a question says of the way through a point. */
export interface Step {
  key: string
  shownIf?: Condition | null
  quiz?: { contact?: boolean; then?: Branch[] } | null
}

/**
 * The questions in the order in which they are asked: those for who it is stand together, first or last.
 * @param quiz null: as they stand
 */
export function inOrder<Q extends Step>(questions: Q[], quiz: { contact: 'start' | 'before' } | null): Q[] {
  if (!quiz) return questions
  const contact = questions.filter(q => q.quiz?.contact)
  const others = questions.filter(q => !q.quiz?.contact)
  return quiz.contact === 'start' ? [...contact, ...others] : [...others, ...contact]
}

/**
 * The questions that somebody is asked who answers so. A question that its condition does not show is passed over, and a branch
 * leads on over those between; the questions for who it is are passed over by no branch.
 * @param questions in their order
 */
export function askedOn<Q extends Step>(questions: Q[], answers: Answers): Q[] {
  const given: Answers = {}
  const attributes = answerAttributes(given)
  const asked: Q[] = []
  /** Where a branch leads; null: to the next. */
  let to: string | null = null
  for (const q of questions) {
    if (!q.quiz?.contact && to !== null) {
      if (q.key !== to) continue
      to = null
    }
    if (!isShown(q, given)) continue
    asked.push(q)
    const answer = Object.hasOwn(answers, q.key) ? answers[q.key] : undefined
    if (answer !== undefined) given[q.key] = answer
    to = q.quiz?.then?.find(b => !b.when || holds(b.when, attributes))?.to ?? to
  }
  return asked
}
