import type { Acting } from '#core/actions/action'
import { attributesIn, type Condition } from '#core/conditions/condition'
import { judge } from '#core/conditions/judge'
import { subjectOf } from '#core/leads/about'
import { aboutStep } from '#core/leads/book'
import type { PointDefinition } from '#core/points/definition'
import { answerAttributes } from '#core/points/shown'
import { quizAttributes } from '#core/quiz/attributes'

/** What judging takes of an entry in hand. */
interface Judging extends Pick<Acting, 'rules' | 'book'> {
  step: Pick<Acting['step'], 'lead' | 'at' | 'intake'>
}

/** Whether a condition holds of a lead and of what the entry in hand says; null always does. */
export function fits(when: Condition | null, { rules, book, step }: Judging): boolean {
  if (!when) return true
  const about = subjectOf(aboutStep(rules, book, step))
  const answered = answerAttributes(step.intake.answers)
  const made = quizAttributes(step.intake.judged)
  const asked = {
    ...about,
    attribute: (name: string) =>
      name.startsWith('answer.') ? answered(name) : name.startsWith('quiz.') ? made(name) : about.attribute(name),
  }
  return judge(rules.whole(when), asked).holds
}

/** Whether a condition asks for the answer to a question that is not there any more. */
export const asksForGone = (when: Condition | null, { questions }: Pick<PointDefinition, 'questions'>): boolean =>
  when !== null && attributesIn(when).some(name => name.startsWith('answer.') && !questions.some(q => name === `answer.${q.key}`))
