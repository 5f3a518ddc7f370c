import { IsOptional, IsUUID } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { markRead } from '#db/notices'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Seen {
  @IsOptional() @IsUUID() lead?: string
  @IsOptional() @IsUUID() list?: string
  @IsOptional() @IsUUID() notice?: string
}

/** Marks notices as seen: of one lead or list, one alone, or all. My other windows hear of it. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const about = await readChecked(event, Seen)
  if (await markRead(database(), member.id, about)) await say(database(), { notices: [member.id] })
  return sendNoContent(event)
})
