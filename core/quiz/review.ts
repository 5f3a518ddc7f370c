import type { Language } from '#core/languages/language'
import type { Say } from '#core/languages/say'
import { answerText, choicesOf, type Answer, type Answers, type PointDefinition, type Question } from '#core/points/definition'
import { earnedBy, possibleOf } from '#core/quiz/judge'
import type { Quiz } from '#core/quiz/shapes'
import { oneLine } from '#core/text'

/** Whether an answer brought all the marks that there were. */
export const isAllRight = (quiz: Quiz, q: Question, answer: Answer | undefined, possible: number): boolean =>
  earnedBy(q, answer, quiz.partial) === possible

/** What would have been right, in words. */
export function rightText(q: Question, language: Language): string {
  if (q.kind !== 'number') {
    const right = choicesOf(q, language).filter(c => c.quiz?.right)
    return right.map(c => c.text).join(', ')
  }
  const bands = q.quiz?.bands ?? []
  const before = (i: number) => (i ? `> ${bands[i - 1]!.upTo ?? ''}` : '')
  const upTo = (i: number) => (bands[i]!.upTo === null ? '' : `≤ ${bands[i]!.upTo}`)
  return bands.flatMap((b, i) => (b.quiz.right ? [[before(i), upTo(i)].filter(Boolean).join(', ')] : [])).join('; ')
}

/** What was answered, a line a question; of marks with what is right, where the quiz tells. */
export function answerLines({ quiz, questions, language }: PointDefinition, answers: Answers, say: Say): string[] {
  return questions.flatMap(q => {
    const answer = answers[q.key]
    if (answer === undefined || q.quiz?.contact || q.kind === 'consent') return []
    const line = `${oneLine(q.label, 600)}: ${oneLine(answerText(q, answer, language), 600)}`
    const possible = quiz?.kind === 'marks' && quiz.says === 'end' ? possibleOf(q) : 0
    if (!quiz || !possible) return [line]
    return [`${line}. ${isAllRight(quiz, q, answer, possible) ? say('wasRight') : say('rightWas', { answer: rightText(q, language) })}`]
  })
}
