import { defineEventHandler } from 'h3'
import { visitorSends } from '#server/chat/files'
import { heldBy, SentFiles } from '#server/chat/wire'
import { MOST_IN_ALL, readMultipart } from '#server/files/multipart'
import { limit, limitConversation } from '#server/limits'
import { problem } from '#server/problem'
import { checked, mediaType } from '#server/wire'

/** Takes files that a visitor sends, in the parts `file` of a form, beside what holds the conversation. */
export default defineEventHandler(async event => {
  await limit(event, 'messages')
  if (mediaType(event) !== 'multipart/form-data') throw problem(415, 'Send the files as multipart/form-data, in fields named “file”.')
  const { fields, uploads } = await readMultipart(event, MOST_IN_ALL * 1e6)
  const { after, to, ...rest } = Object.fromEntries(fields)
  // A form's fields are texts.
  const sent = checked(SentFiles, { ...rest, after: Number(after), ...(to && { to: Number(to) }) })
  const c = await heldBy(sent)
  await limitConversation(event, c.id)
  return visitorSends(
    event,
    c,
    sent,
    uploads.filter(u => u.field === 'file'),
  )
})
