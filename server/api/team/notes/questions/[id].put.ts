import { IsOptional, IsString, IsUUID, Matches, MaxLength } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { addTryQuestion, noteById, tryQuestions } from '#db/notes'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

const MOST = 200
class Question {
  @IsString() @MaxLength(2000) @Matches(/\S/, { message: 'Write a question.' }) text!: string
  /** The right note; null: none has the answer. */
  @IsOptional() @IsUUID() note?: string | null
}

/** Keeps a question to try the notes on. Every second one is kept out when the setting is chosen. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit notes')
  const id = idFrom(event)
  const { text, note } = await readChecked(event, Question)
  const db = database()
  if (note && !(await noteById(db, note)))
    throw problem(422, 'This note is not there any more.', [{ field: 'note', message: 'Choose another note.' }])
  const all = await tryQuestions(db)
  if (all.length >= MOST && !all.some(q => q.id === id)) throw problem(422, `At most ${MOST} questions are kept. Take one out first.`)
  await addTryQuestion(
    db,
    { id, text: text.trim(), note: note ?? null, keptOut: all.filter(q => (q.note === null) === !note).length % 2 === 1 },
    new Date(),
  )
  await changed({ notes: true })
  return sendNoContent(event)
})
