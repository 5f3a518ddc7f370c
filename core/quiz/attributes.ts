import type { Attributes } from '#core/conditions/condition'
import type { Judged } from '#core/quiz/judge'

/** What conditions may ask of a quiz that was finished: its result by key, the share of marks in hundredths, and the marks. */
export const quizAttributes =
  (judged: Judged | null): Attributes =>
  name => {
    if (!judged) return undefined
    if (name === 'quiz.result') return judged.result
    if (name === 'quiz.points') return judged.earned / 100
    return name === 'quiz.share' ? shareOf(judged) : undefined
  }

/** Hundredths of the marks that were to be had, whole; 0 where there were none. */
export const shareOf = ({ earned, possible }: Pick<Judged, 'earned' | 'possible'>): number =>
  possible ? Math.floor((100 * earned) / possible) : 0
