import type { Question } from '#core/points/definition'
import type { AnswerCounts } from '#core/results/results'

/** Fewer answers to a question say too little of how people choose. */
const FEWEST = 20

/**
 * How often each choice was really chosen, as shares of those who answered, by question. Of numbers nothing is known by band, and of
 * what few have answered nothing is said: those count as if each choice were as likely.
 */
export function chosenShares(
  questions: Question[],
  counted: Pick<AnswerCounts, 'question' | 'answered' | 'rows'>[],
): Map<string, Map<string, number>> {
  return new Map(
    counted.flatMap(({ question, answered, rows }) => {
      const q = questions.find(o => o.key === question)
      if (!q || answered < FEWEST || !['one_of', 'some_of', 'yes_no'].includes(q.kind)) return []
      return [[question, new Map(rows.map(r => [r.value, r.n / answered]))] as const]
    }),
  )
}
