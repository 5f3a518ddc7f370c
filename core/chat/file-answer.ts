import { readAnswers } from '#core/points/answers'
import type { Answer } from '#core/points/answer'
import type { Question } from '#core/points/definition'
import type { Reading } from '#core/points/values'

/**
 * The answer to a question for files: those that came are kept before, and named here; a text is none of them.
 * @param given names of files that came, or what was typed instead
 */
export function fileAnswer(question: Question, given: Answer, reading: Reading): { value: Answer } | { flaw: string } {
  if (typeof given === 'string' && given) return { flaw: question.error || reading.say('chooseFile') }
  const files = [given]
    .flat()
    .filter(Boolean)
    .map(name => ({ id: '', name }))
  const { answers, flaws } = readAnswers([{ ...question, shownIf: null, hidden: null }], {}, reading, { [question.key]: files })
  return flaws.length ? { flaw: flaws[0]!.message } : { value: answers[question.key] ?? '' }
}
