import { IsBoolean, IsInt, IsUUID, Max, Min } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { inspected, withFiles } from '#server/chat/files'
import { memberSays } from '#server/chat/member'
import { conversationView } from '#server/chat/team'
import { MOST_IN_ALL, readMultipart } from '#server/files/multipart'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { checked, idFrom, mediaType } from '#server/wire'

class Sending {
  /** Whoever sends gives it its id, so that what is sent again stands once. */
  @IsUUID() message!: string
  /** Among colleagues only. */
  @IsBoolean() note!: boolean
  /** The last line that whoever answers has seen. */
  @IsInt() @Min(0) @Max(100_000) after!: number
}

/** One of us sends files, in parts `file` of a form, to the visitor or among ourselves. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const id = idFrom(event)
  if (mediaType(event) !== 'multipart/form-data') throw problem(415, 'Send the files as multipart/form-data, in fields named “file”.')
  const { fields, uploads } = await readMultipart(event, MOST_IN_ALL * 1e6)
  const { message, after, note } = Object.fromEntries(fields)
  const sending = checked(Sending, { message, after: Number(after), note: note === 'true' })
  const files = await inspected(uploads.filter(u => u.field === 'file'))
  await conversationView(id)
  await withFiles(id, files, member.id, null, talkFiles =>
    memberSays(id, member, { ...sending, text: '', files: talkFiles, isNote: sending.note }),
  )
  setResponseStatus(event, 201)
  return conversationView(id)
})
