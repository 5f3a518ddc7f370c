import { defineEventHandler } from 'h3'
import { alike, bestSetting, hitRate, noteIndex } from '#core/chat/note-search'
import type { NotesView } from '#core/chat/notes-view'
import { notes, noteSetting, tryQuestions, unanswered } from '#db/notes'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** The notes that chats answer from, how well they do, and what they could not answer. */
export default defineEventHandler(async (event): Promise<NotesView> => {
  await memberOf(event)
  const db = database()
  const [all, setting, questions, open] = await Promise.all([notes(db), noteSetting(db), tryQuestions(db), unanswered(db)])
  const index = noteIndex(all)
  const [chosen, keptOut] = [questions.filter(q => !q.keptOut), questions.filter(q => q.keptOut)]
  return {
    notes: all.map(n => ({ ...n, changedAt: n.changedAt.toISOString() })),
    setting,
    best: chosen.length ? bestSetting(index, chosen) : setting,
    questions,
    rate: { chosen: hitRate(index, chosen, setting), keptOut: hitRate(index, keptOut, setting) },
    unanswered: alike(open).map(group => group.map(({ id, text, conversationId, at }) => ({ id, text, conversation: conversationId, at: at.toISOString() }))),
  }
})
