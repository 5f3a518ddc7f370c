import { IsString, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { notesOfPage } from '#server/chat/page-notes'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Page {
  @IsString() @MaxLength(2000) address!: string
}

/** The notes that a page of the web would make, to be looked at and kept one by one. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit notes')
  const { address } = await readChecked(event, Page)
  return { notes: await notesOfPage(address.trim()) }
})
