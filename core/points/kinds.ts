/** What a visitor can answer or look at: forms and quizzes ask, pages carry one of them. */
export const POINT_KINDS = ['form', 'quiz', 'page'] as const
export type PointKind = (typeof POINT_KINDS)[number]
/** Those that ask something themselves. */
export type AskingKind = Exclude<PointKind, 'page'>
