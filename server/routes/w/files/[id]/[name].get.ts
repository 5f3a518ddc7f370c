import { defineEventHandler } from 'h3'
import { assetFile } from '#db/files'
import { database } from '#server/database'
import { sendFile } from '#server/files/send'
import { limit } from '#server/limits'
import { problem } from '#server/problem'
import { idFrom } from '#server/wire'

/** A picture or download of the house. It never changes under its address. */
export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const file = await assetFile(database(), idFrom(event))
  if (!file) throw problem(404, 'There is no such file.')
  return sendFile(event, file, 'public, max-age=31536000, immutable')
})
