import { IsOptional, IsString, MaxLength } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { placeUnder } from '#db/hosts'
import { anyPoint } from '#server/capture/editing'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class UnderName {
  /** Null: at the application's own address. */
  @IsOptional() @IsString() @MaxLength(253) host!: string | null
}

/** Says under which name a form or page is found. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const { host } = await readChecked(event, UnderName)
  const { id } = await anyPoint(event)
  if (!(await placeUnder(applicationContext().sql, id, host ?? null))) {
    const message = 'There is no such name any more. Choose another.'
    throw problem(422, message, [{ field: 'host', message }])
  }
  await changed({ points: [id], site: true })
  return sendNoContent(event)
})
