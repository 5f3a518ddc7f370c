import type { Language } from '#core/languages/language'

/** A short text that a chat answers from. */
export interface NoteText {
  id: string
  title: string
  body: string
}
/** A note that was found, with how much of what was asked it covers: 0 to 1. */
export interface FoundNote {
  id: string
  title: string
  score: number
}
/** What is made of the best notes: answered with the first, asked which was meant, or nothing. */
export type Verdict = 'answered' | 'again' | 'nothing'
export interface NoteSetting {
  answersFrom: number
  asksFrom: number
}

/** A question to try notes on, with the right one; null: none has the answer. */
export interface TryQuestion {
  id: string
  text: string
  note: string | null
  keptOut: boolean
}
export interface HitRate {
  /** Questions with an answer, and those that got it: answered with the right note, or asked with it among what may be meant. */
  withAnswer: number
  answered: number
  offered: number
  /** Questions without an answer, and those of which nothing was made up. */
  without: number
  leftAlone: number
  /** Answered with a note that is not the right one. */
  wrong: number
}

/** A note as the team reads it. */
export interface NoteView {
  id: string
  title: string
  body: string
  source: string | null
  changedAt: string
}
export interface NotesView {
  notes: NoteView[]
  setting: NoteSetting
  /** In which they are tried here; a chat looks into them in the language of its conversation. */
  language: Language
  /** What the setting would be that does best on the questions that are not kept out. */
  best: NoteSetting
  questions: TryQuestion[]
  /** How the setting does: on the questions it is chosen by, and on those that are kept out. */
  rate: { chosen: HitRate; keptOut: HitRate }
  /** What was asked in chats and not answered, those that ask alike together. */
  unanswered: { id: string; text: string; conversation: string | null; at: string }[][]
}
