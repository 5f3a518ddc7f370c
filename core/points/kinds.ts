/** What a visitor can answer or look at: forms, quizzes and chats ask, pages carry one of them. */
export const POINT_KINDS = ['form', 'quiz', 'chat', 'page'] as const
export type PointKind = (typeof POINT_KINDS)[number]
/** Those that ask something themselves. */
export type AskingKind = Exclude<PointKind, 'page'>
