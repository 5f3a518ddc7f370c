import { ArrayMaxSize, ArrayMinSize, IsBoolean, IsUUID } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { settleUnanswered } from '#db/notes'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Settled {
  @ArrayMinSize(1) @ArrayMaxSize(500) @IsUUID(undefined, { each: true }) ids!: string[]
  @IsBoolean() done!: boolean
}

/** Says that questions are dealt with, or that they are not. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit notes')
  const { ids, done } = await readChecked(event, Settled)
  await settleUnanswered(database(), ids, done ? new Date() : null)
  await changed({ notes: true })
  return sendNoContent(event)
})
