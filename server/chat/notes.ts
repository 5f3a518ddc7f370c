import type { Heard } from '#core/chat/run'
import { noteIndex, verdictOf, type NoteIndex } from '#core/chat/note-search'
import type { NoteSetting } from '#core/chat/notes-view'
import type { Language } from '#core/languages/language'
import type { Topics } from '#core/live/topics'
import { sayIn } from '#core/languages/say'
import { addUnanswered, noteById, notes, noteSetting } from '#db/notes'
import { liveChats } from '#db/spoken'
import { applicationContext } from '#server/application-context'
import { push, type Talk } from '#server/chat/talk'
import { newId } from '#server/ids'

/** Should a word of a change get lost, nothing stays stale for longer than this. */
const KEPT_MS = 30_000
interface Searched {
  index: NoteIndex
  setting: NoteSetting
}
const kept = new Map<Language, { until: number; all: Promise<Searched> }>()

/** The notes as they are searched in a language, in this process's memory. */
export function noteSearch(language: Language): Promise<Searched> {
  const found = kept.get(language)
  if (found && found.until > Date.now()) return found.all
  const { sql } = applicationContext()
  const all = Promise.all([notes(sql), noteSetting(sql)]).then(([texts, setting]) => ({ index: noteIndex(texts, language), setting }))
  const fresh = { until: Date.now() + KEPT_MS, all }
  kept.set(language, fresh)
  all.catch(() => {
    if (kept.get(language) === fresh) kept.delete(language)
  })
  return all
}
/** Forgets what changed. */
export const forgetNotes = (change: Topics): void => {
  if (change.notes) kept.clear()
}
/** The language in which notes are tried: that of the first chat that is live. */
export async function languageOfNotes(): Promise<Language> {
  const { sql, cache } = applicationContext()
  const [first] = await liveChats(sql)
  return (first && (await cache.point(first.key))?.live?.definition.language) ?? 'en'
}

/** Looks for an answer among the notes: answers with one, asks which was meant, or notes that none was found. */
export async function lookUp(talk: Talk, step: string, words: string): Promise<Heard | undefined> {
  const { index, setting } = await noteSearch(talk.language)
  const found = index.find(words)
  const verdict = verdictOf(found, setting)
  if (verdict === 'answered' && (await takeMeant(talk, found[0]!.id))) return { kind: 'found', what: 'answered' }
  if (verdict === 'again') {
    const offered = found.filter(f => f.score >= setting.asksFrom)
    push(talk, 'flow', sayIn(talk.language)('chatMean'), {
      kind: 'mean',
      step,
      notes: offered.map(f => f.id),
      choices: offered.map(f => f.title),
      asked: words.slice(0, 500),
    })
    return undefined
  }
  await leaveOpen(talk, words)
  return { kind: 'found', what: 'nothing' }
}

/** Answers with the note that was meant. @returns whether it is there still */
export async function takeMeant(talk: Talk, id: string): Promise<boolean> {
  const note = await noteById(talk.tx, id)
  if (!note) return false
  push(talk, 'flow', note.body, { kind: 'note', note: note.id, name: note.title })
  return true
}

/** Notes for us what could not be answered. */
export async function leaveOpen(talk: Talk, words: string): Promise<void> {
  await addUnanswered(talk.tx, { id: newId(talk.at), text: words.slice(0, 2000), conversationId: talk.c.id, at: new Date(talk.at) })
  talk.tells.notes = true
}
