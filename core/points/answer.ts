/** An answer exactly as typed; a list where several may be chosen. */
export type Answer = string | string[]
export type Answers = Record<string, Answer>
