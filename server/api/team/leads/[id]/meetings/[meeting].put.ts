import { IsISO8601, IsOptional, IsString, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { choose, movable } from '#server/meetings/choose'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class MoveBody {
  @IsISO8601({ strict: true }) @MaxLength(40) at!: string
  /** What they are told with it. */
  @IsOptional() @IsString() @MaxLength(600) words?: string | null
}

/** One of us moves a meeting: both get the calendar file anew, and who chose it can choose again. */
export default defineEventHandler(async event => {
  const { id, name } = await memberOf(event, 'work leads')
  const [lead, meeting] = [idFrom(event), idFrom(event, 'meeting')]
  const { at, words } = await readChecked(event, MoveBody)
  const offered = await movable(lead, meeting)
  if (!offered) throw problem(409, 'This meeting was called off, is over, or its lead has no owner to meet.')
  const moved = await choose(offered, Date.parse(at), { id, name, words: words?.trim() ?? '' })
  if (!moved) throw problem(409, 'This time is not free any more. Choose another one.')
  return { ok: true }
})
