import type { Language } from '#core/languages/language'
import type { HitRate, NoteSetting, TryQuestion } from '#core/chat/note-search'

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
