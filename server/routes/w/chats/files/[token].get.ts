import { defineEventHandler, getRouterParam } from 'h3'
import { talkFile } from '#db/files'
import { talkFileOf } from '#server/chat/file-address'
import { database } from '#server/database'
import { sendFile } from '#server/files/send'
import { limit } from '#server/limits'
import { problem } from '#server/problem'

/** A file of a conversation, for whoever was given its signed address. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const id = talkFileOf(getRouterParam(event, 'token') ?? '')
  const file = id === null ? undefined : await talkFile(database(), id)
  if (!file) throw problem(404, 'There is no such file. Perhaps its conversation was erased.')
  return sendFile(event, file, 'private, max-age=86400')
})
