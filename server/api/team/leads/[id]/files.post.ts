import { defineEventHandler, setResponseStatus } from 'h3'
import { MOST_MEGABYTES } from '#core/files/kinds'
import { addLeadFile } from '#db/files'
import { database } from '#server/database'
import { inspect } from '#server/files/inspect'
import { readMultipart } from '#server/files/multipart'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, mediaType } from '#server/wire'

/** Takes in a file that is to go along with a note or a mail about a lead: one, in the field `file`. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const lead = idFrom(event)
  if (mediaType(event) !== 'multipart/form-data') throw problem(415, 'Send the file as multipart/form-data, in the field “file”.')
  const { uploads } = await readMultipart(event, (MOST_MEGABYTES + 1) * 1e6)
  const upload = uploads.find(u => u.field === 'file')
  const wrong = (message: string) => problem(422, message, [{ field: 'file', message }])
  if (!upload) throw wrong('No file came along. Choose one.')
  const seen = await inspect(upload, { accepts: [], megabytes: MOST_MEGABYTES })
  if ('flaw' in seen) throw wrong(seen.flaw)
  const { name, type, size, sha256, content } = seen.file
  const id = newId()
  if (!(await addLeadFile(database(), { id, lead, name, type, size, sha256, content, by: member.id })))
    throw problem(404, 'There is no such lead.')
  setResponseStatus(event, 201)
  return { id, name, size }
})
