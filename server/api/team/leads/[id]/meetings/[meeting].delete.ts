import { IsOptional, IsString, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { callMeetingOff } from '#server/meetings/choose'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class OffBody {
  /** What they are told with it. */
  @IsOptional() @IsString() @MaxLength(600) words?: string | null
}

/** One of us calls a meeting off: they are mailed, with a link to choose another time. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const [lead, meeting] = [idFrom(event), idFrom(event, 'meeting')]
  const { words } = await readChecked(event, OffBody)
  if (!(await callMeetingOff(lead, meeting, member, words?.trim() ?? '')))
    throw problem(409, 'This meeting was called off before, or is over.')
  return { ok: true }
})
