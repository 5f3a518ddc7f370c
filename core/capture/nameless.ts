import type { Via } from '#core/capture/intake'
import type { Language } from '#core/languages/language'
import type { Answers, PointDefinition, Question, QuestionKind } from '#core/points/definition'
import type { Judged } from '#core/quiz/judge'

/** A quiz that somebody finished who did not say who they are. It becomes nobody, and nothing is done for it. */
export interface Nameless {
  id: string
  at: number
  point: { id: string; key: string; slug: string }
  edition: { id: string; number: number; definition: PointDefinition }
  language: Language
  /** Exactly as typed, of the questions that were asked. */
  answers: Answers
  judged: Judged
  /** What of the answers is kept, which says nothing of a person. */
  kept: Answers
  via: Via
  page: string | null
  landing: string | null
  tookMs: number | null
  /** A guard caught it: it gets its result, and is not counted. */
  isSuspect: boolean
  idempotencyKey: string | null
  /** What was kept of it while it was typed, which goes. */
  unfinished: { visitor: string; id: string | null } | null
}

/** What is chosen from what is offered, and numbers: in such answers nobody can have written who they are. */
const TELLS_NOBODY = new Set<QuestionKind>(['one_of', 'some_of', 'yes_no', 'number'])

/** The answers that may be kept of somebody nameless. */
export const namelessAnswers = (questions: Pick<Question, 'key' | 'kind' | 'hidden' | 'quiz'>[], answers: Answers): Answers =>
  Object.fromEntries(
    questions.flatMap(q =>
      TELLS_NOBODY.has(q.kind) && !q.hidden && !q.quiz?.contact && Object.hasOwn(answers, q.key) ? [[q.key, answers[q.key]!]] : [],
    ),
  )
