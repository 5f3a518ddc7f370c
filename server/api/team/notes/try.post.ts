import { IsString, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { verdictOf } from '#core/chat/note-search'
import { languageOfNotes, noteSearch } from '#server/chat/notes'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Try {
  @IsString() @MaxLength(2000) text!: string
}

/** What a question would find among the notes, and what would be made of it. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { text } = await readChecked(event, Try)
  const { index, setting } = await noteSearch(await languageOfNotes())
  const found = index.find(text, 5)
  return { found, verdict: verdictOf(found, setting) }
})
