import { attributesIn, holds, type Condition } from '#core/conditions/condition'
import type { Answers } from '#core/points/definition'
import type { Attributes } from '#core/points/mails'
import { answerAttributes } from '#core/points/shown'
import { quizAttributes } from '#core/quiz/attributes'
import type { Judged } from '#core/quiz/judge'

/** Somebody for whom mails are shown: what placeholders stand for, and which mails go to them (by key; null: nobody can tell). */
export interface MailSample {
  id: string
  who: string
  lead: Attributes['lead']
  answer: Attributes['answer']
  quiz: Attributes['quiz']
  fits: string[] | null
}

/** Somebody of whom nothing is known but where they can be reached. */
export const NOBODY: Pick<MailSample, 'lead' | 'answer' | 'quiz'> = {
  lead: { first_name: '', last_name: '', name: '', company: '', email: 'somebody@guests.example' },
  answer: {},
  quiz: {},
}

/** A condition as it is left when answers are known, and what a quiz made of them: what asks for them holds or does not. */
export function withAnswers(condition: Condition, answers: Answers, judged: Judged | null = null): Condition {
  const inner = (all: Condition[]) => all.map(c => withAnswers(c, answers, judged))
  const [answered, made] = [answerAttributes(answers), quizAttributes(judged)]
  if ('all' in condition) return { all: inner(condition.all) }
  if ('any' in condition) return { any: inner(condition.any) }
  if ('none' in condition) return { none: inner(condition.none) }
  if (!attributesIn(condition).some(name => name.startsWith('answer.') || name.startsWith('quiz.'))) return condition
  return holds(condition, name => (name.startsWith('quiz.') ? made(name) : answered(name))) ? { all: [] } : { any: [] }
}
