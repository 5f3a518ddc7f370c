import { IsBoolean, IsInt, IsOptional, IsString, IsUUID, Max, Min, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { LIMITS } from '#core/points/limits'
import { memberSays } from '#server/chat/member'
import { conversationView } from '#server/chat/team'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class Reply {
  /** Whoever sends gives it its id, so that what is sent again stands once. */
  @IsUUID() message!: string
  @IsString() @MaxLength(LIMITS.answer) text!: string
  /** Among colleagues only. */
  @IsOptional() @IsBoolean() note?: boolean | null
  /** The last line that whoever answers has seen. */
  @IsInt() @Min(0) @Max(100_000) after!: number
}

/** One of us says something, to the visitor or among ourselves. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const id = idFrom(event)
  const { message, text, note, after } = await readChecked(event, Reply)
  await memberSays(id, member, { message, text, isNote: note === true, after })
  setResponseStatus(event, 201)
  return conversationView(id)
})
