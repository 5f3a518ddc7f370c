import type { Heard } from '#core/chat/run'
import { noteIndex, verdictOf, type NoteIndex, type NoteSetting } from '#core/chat/note-search'
import type { Topics } from '#core/live/topics'
import { sayIn } from '#core/languages/say'
import { addUnanswered, noteById, notes, noteSetting } from '#db/notes'
import { applicationContext } from '#server/application-context'
import { push, type Talk } from '#server/chat/talk'
import { newId } from '#server/ids'

/** Should a word of a change get lost, nothing stays stale for longer than this. */
const KEPT_MS = 30_000
let kept: { until: number; all: Promise<{ index: NoteIndex; setting: NoteSetting }> } | null = null

/** The notes as they are searched, in this process's memory. */
export function noteSearch(): Promise<{ index: NoteIndex; setting: NoteSetting }> {
  if (!kept || kept.until < Date.now()) {
    const { sql } = applicationContext()
    const fresh = {
      until: Date.now() + KEPT_MS,
      all: Promise.all([notes(sql), noteSetting(sql)]).then(([all, setting]) => ({ index: noteIndex(all), setting })),
    }
    fresh.all.catch(() => {
      if (kept === fresh) kept = null
    })
    kept = fresh
  }
  return kept.all
}
/** Forgets what changed. */
export const forgetNotes = (change: Topics): void => {
  if (change.notes) kept = null
}

/** Looks for an answer among the notes: answers with one, asks which was meant, or notes that none was found. */
export async function lookUp(talk: Talk, step: string, words: string): Promise<Heard | undefined> {
  const { index, setting } = await noteSearch()
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
