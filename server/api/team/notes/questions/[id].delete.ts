import { defineEventHandler, sendNoContent } from 'h3'
import { removeTryQuestion } from '#db/notes'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

export default defineEventHandler(async event => {
  await memberOf(event, 'edit notes')
  if (!(await removeTryQuestion(database(), idFrom(event)))) throw problem(404, 'This question is not there any more.')
  await changed({ notes: true })
  return sendNoContent(event)
})
