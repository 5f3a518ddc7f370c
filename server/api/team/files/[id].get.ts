import { defineEventHandler } from 'h3'
import { innerFile } from '#db/files'
import { database } from '#server/database'
import { sendFile } from '#server/files/send'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** A file that a visitor sent, or that stands with a note or a mail; for members only. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const file = await innerFile(database(), idFrom(event))
  if (!file) throw problem(404, 'There is no such file. Perhaps its entry was thrown away.')
  return sendFile(event, file, 'private, no-store')
})
