import type { Condition, holds as Holds } from '#core/conditions/condition'
import type { Answers } from '#core/points/answer'
import { answerAttributes } from '#core/points/shown'
import type { Branch, Quiz } from '#core/quiz/shapes'

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
export function inOrder<Q extends Step>(questions: Q[], quiz: { contact: 'start' | 'before' | 'after' } | null): Q[] {
  if (!quiz) return questions
  const contact = questions.filter(q => q.quiz?.contact)
  const others = questions.filter(q => !q.quiz?.contact)
  return quiz.contact === 'start' ? [...contact, ...others] : [...others, ...contact]
}

/**
 * Goes along with the questions in their order, and says which are asked. A question that its condition does not show is passed
 * over, and a branch leads on over those between; the questions for who it is are passed over by no branch.
 * @param given the answers so far: whoever asks adds to it
 * @param holds judges conditions
 */
export function along(given: Answers, holds: typeof Holds): { isAsked: (q: Step) => boolean; answered: (q: Step) => void } {
  const attributes = answerAttributes(given)
  /** Where a branch leads; '' is the end, and null the next. */
  let to: string | null = null
  return {
    isAsked(q) {
      if (!q.quiz?.contact && to !== null) {
        if (q.key !== to) return false
        to = null
      }
      return !q.shownIf || holds(q.shownIf, attributes)
    },
    answered(q) {
      to = q.quiz?.then?.find(b => !b.when || holds(b.when, attributes))?.to ?? to
    },
  }
}

/** Whether a quiz lets people stay nameless: all that says who it is can be passed over, or comes after the result. */
export const allowsNameless = ({ quiz, questions }: { quiz: Pick<Quiz, 'contact' | 'skip'> | null; questions: Step[] }): boolean =>
  quiz !== null && (quiz.skip || quiz.contact === 'after') && questions.some(q => q.quiz?.contact)

/** The questions that somebody is asked who answers so. @param questions in their order */
export function askedOn<Q extends Step>(questions: Q[], answers: Answers, holds: typeof Holds): Q[] {
  const given: Answers = {}
  const way = along(given, holds)
  return questions.filter(q => {
    if (!way.isAsked(q)) return false
    const answer = Object.hasOwn(answers, q.key) ? answers[q.key] : undefined
    if (answer !== undefined) given[q.key] = answer
    way.answered(q)
    return true
  })
}

/**
 * The next part with something to ask, in a direction; null behind the last.
 * @param pages in their order
 * @param isOut asked of nobody here: who it is, of somebody nameless
 */
export function pageBeside<Q extends Step & { parameter?: string }>(
  pages: Q[][],
  at: number,
  by: 1 | -1,
  answers: Answers,
  holds: typeof Holds,
  isOut: (q: Q) => boolean = () => false,
): number | null {
  const asked = new Set(askedOn(pages.flat(), answers, holds).filter(q => !isOut(q)))
  for (let n = at + by; n >= 0 && n < pages.length; n += by) if (pages[n]!.some(q => asked.has(q) && !q.parameter)) return n
  return null
}
