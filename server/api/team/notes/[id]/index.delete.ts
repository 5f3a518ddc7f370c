import { defineEventHandler, sendNoContent } from 'h3'
import { removeNote } from '#db/notes'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Takes a note out: chats answer from it no more. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit notes')
  if (!(await removeNote(database(), idFrom(event), new Date()))) throw problem(404, 'This note is not there any more.')
  await changed({ notes: true })
  return sendNoContent(event)
})
