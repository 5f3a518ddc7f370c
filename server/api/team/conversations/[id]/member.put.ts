import { IsOptional, IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { handTo } from '#server/chat/member'
import { conversationView } from '#server/chat/team'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class Handing {
  /** Who has it from now on: a member's id, or a lane of the plan as `pool.KEY`, of which whoever takes it first; nobody: whoever takes it first. */
  @IsOptional()
  @Matches(/^(pool\.\S{1,200}|[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12})$/i, {
    message: 'The id of a member, or pool. and the key of a lane',
  })
  to?: string | null
  /** For them alone. */
  @IsOptional() @IsString() @MaxLength(1000) words?: string | null
}

/** Takes a conversation, or hands it to somebody. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const id = idFrom(event)
  const { to, words } = await readChecked(event, Handing)
  await handTo(id, member, to ?? null, words?.trim() ?? '')
  return conversationView(id)
})
