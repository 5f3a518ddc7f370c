import { defineEventHandler } from 'h3'
import { alike, bestSetting, hitRate, tryOn, type NoteIndex, type Tried } from '#core/chat/note-search'
import type { NotesView, TryQuestion } from '#core/chat/notes-view'
import { notes, tryQuestions, unanswered } from '#db/notes'
import { languageOfNotes, noteSearch } from '#server/chat/notes'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** The notes that chats answer from, how well they do, and what they could not answer. */
export default defineEventHandler(async (event): Promise<NotesView> => {
  await memberOf(event)
  const db = database()
  const language = await languageOfNotes()
  const [all, { index, setting }, questions, open] = await Promise.all([notes(db), noteSearch(language), tryQuestions(db), unanswered(db)])
  const chosen = await triedInPieces(
    index,
    questions.filter(q => !q.keptOut),
  )
  const keptOut = await triedInPieces(
    index,
    questions.filter(q => q.keptOut),
  )
  return {
    notes: all.map(n => ({ ...n, changedAt: n.changedAt.toISOString() })),
    setting,
    language,
    best: chosen.length ? bestSetting(chosen) : setting,
    questions,
    rate: { chosen: hitRate(chosen, setting), keptOut: hitRate(keptOut, setting) },
    unanswered: alike(open, language).map(group =>
      group.map(({ id, text, conversationId, at }) => ({ id, text, conversation: conversationId, at: at.toISOString() })),
    ),
  }
})

/** Looks so many questions up at once, and lets others in between. */
const AT_ONCE = 20
async function triedInPieces(index: NoteIndex, questions: TryQuestion[]): Promise<Tried[]> {
  const tried: Tried[] = []
  for (let at = 0; at < questions.length; at += AT_ONCE) {
    tried.push(...tryOn(index, questions.slice(at, at + AT_ONCE)))
    await new Promise(done => setImmediate(done))
  }
  return tried
}
