/** One thing wrong with something that came in: where, and what to do about it. */
export interface Flaw {
  /** Path of the field, dots between: `answers.email`, `questions.2.label`. Empty for the whole. */
  field: string
  /** A sentence for a person. */
  message: string
}
