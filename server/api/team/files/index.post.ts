import { defineEventHandler, setResponseStatus } from 'h3'
import { MOST_MEGABYTES } from '#core/files/kinds'
import { addAsset, keepSizes } from '#db/files'
import { database } from '#server/database'
import { inspect } from '#server/files/inspect'
import { readMultipart } from '#server/files/multipart'
import { MOST_PIXELS, sizesOf } from '#server/files/sizes'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { mediaType } from '#server/wire'

/** Takes in a picture or a download: one file, in the field `file`. With `?kind=picture` only a picture that browsers show. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit points')
  if (mediaType(event) !== 'multipart/form-data') throw problem(415, 'Send the file as multipart/form-data, in the field “file”.')
  const picture = event.path.includes('kind=picture')
  const { uploads } = await readMultipart(event, (MOST_MEGABYTES + 1) * 1e6)
  const upload = uploads.find(u => u.field === 'file')
  if (!upload) throw problem(422, 'No file came along. Choose one.', [{ field: 'file', message: 'Choose a file.' }])
  const seen = await inspect(upload, picture ? { accepts: ['picture'], megabytes: 5 } : { accepts: [], megabytes: MOST_MEGABYTES })
  const flaw =
    'flaw' in seen
      ? seen.flaw
      : picture && seen.file.type === 'image/heic'
        ? 'Many browsers do not show HEIC pictures. Save it as JPEG and try again.'
        : null
  if (flaw !== null || 'flaw' in seen) throw unreadable(flaw!)
  const isShown = seen.file.type.startsWith('image/') && seen.file.width !== null
  if (isShown && seen.file.width! * seen.file.height! > MOST_PIXELS)
    throw unreadable(`“${seen.file.name}” has more than ${MOST_PIXELS / 1e6} million pixels. Make it smaller and try again.`)
  const sizes = isShown
    ? await sizesOf(seen.file.content).catch(() => {
        throw unreadable(`“${seen.file.name}” is no whole picture. Save it anew and try again.`)
      })
    : []
  const kept = await addAsset(database(), { ...seen.file, id: newId(), by: member.id, at: new Date() })
  await keepSizes(database(), kept.id, sizes)
  setResponseStatus(event, 201)
  return kept
})

const unreadable = (message: string) => problem(422, message, [{ field: 'file', message }])
