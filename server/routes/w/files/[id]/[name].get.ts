import { defineEventHandler, getQuery } from 'h3'
import { assetFile, assetSize } from '#db/files'
import { database } from '#server/database'
import { sendFile } from '#server/files/send'
import { limit } from '#server/limits'
import { problem } from '#server/problem'
import { idFrom } from '#server/wire'

/** A picture or download of the house; with `?w=640` a picture in that width, where it was made. It never changes under its address. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const id = idFrom(event)
  const width = Number(getQuery(event).w)
  const file =
    (Number.isInteger(width) && width > 0 && width < 10_000 && (await assetSize(database(), id, width))) ||
    (await assetFile(database(), id))
  if (!file) throw problem(404, 'There is no such file.')
  return sendFile(event, file, 'public, max-age=31536000, immutable')
})
