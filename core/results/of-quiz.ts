import { blankQuestion, type Answers, type Question } from '#core/points/definition'
import type { Judged } from '#core/quiz/judge'
import type { Quiz } from '#core/quiz/shapes'

/**
 * What a quiz made of an entry is counted and shown like one more answer. No question has such a key.
 */
export const RESULT = '@result'
export const POINTS = '@points'

/** What a quiz came to, as questions that nobody is asked. @param quizzes of all editions, the first one first */
export function madeOf(quizzes: (Pick<Quiz, 'kind' | 'results'> | null)[]): Question[] {
  const latest = quizzes.at(-1)
  if (!latest) return []
  const titles = new Map(quizzes.flatMap(quiz => quiz?.results.map(r => [r.key, r.title || r.key] as const) ?? []))
  const choices = [...titles].map(([value, text]) => ({ value, text }))
  const result = blankQuestion({ key: RESULT, kind: 'one_of', label: 'Result', choices })
  return latest.kind === 'marks' ? [result, blankQuestion({ key: POINTS, kind: 'number', label: 'Points' })] : [result]
}

/** Answers with what was made of them. */
export const withMade = (answers: Answers, judged: Judged | null): Answers =>
  judged ? { ...answers, [RESULT]: judged.result, ...(judged.possible > 0 && { [POINTS]: String(judged.earned / 100) }) } : answers
