import { IsBoolean, IsInt, IsOptional, Max, Min } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { noteSeen } from '#db/conversations'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class Seen {
  @IsInt() @Min(0) @Max(100_000) upTo!: number
  @IsOptional() @IsBoolean() typing?: boolean | null
}

/** Notes up to where one of us has read, and that they are typing. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const id = idFrom(event)
  const { upTo, typing } = await readChecked(event, Seen)
  const news = await noteSeen(database(), id, 'us', upTo)
  if (news || typing)
    await say(database(), { ...(news && { conversations: [id] }), ...(typing && { writing: [{ conversation: id, member: member.id }] }) })
  return sendNoContent(event)
})
