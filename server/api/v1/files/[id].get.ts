import { defineEventHandler } from 'h3'
import { answerFile } from '#db/files'
import { requireKey } from '#server/api-keys'
import { database } from '#server/database'
import { sendFile } from '#server/files/send'
import { problem } from '#server/problem'
import { idFrom } from '#server/wire'

export default defineEventHandler(async event => {
  await requireKey(event, 'files:read')
  const file = await answerFile(database(), idFrom(event))
  if (!file) throw problem(404, 'There is no file with this id.')
  return sendFile(event, file, 'private, no-store')
})
