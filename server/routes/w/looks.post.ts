import { IsBoolean, IsIn, IsInt, IsOptional, IsString, Matches, Max, MaxLength, Min } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { check } from '#core/validate'
import { limit } from '#server/limits'
import { problem } from '#server/problem'
import { ownAddress } from '#server/settings'
import { hostOf } from '#server/hosts'
import { agentOf } from '#server/trail/agent'
import { trailContext } from '#server/trail/context'
import { header, parseJson, readText } from '#server/wire'

/** One look at a page of ours: of a form (its key) or of a landing page (its address's last part). */
class LookBody {
  @IsIn(['seen', 'started', 'question', 'left']) kind!: string
  @Matches(/^\/p\/[a-z0-9-]{1,100}$/) path!: string
  @IsOptional() @IsString() @MaxLength(60) point?: string
  @IsOptional() @IsString() @MaxLength(100) landing?: string
  @IsOptional() @IsInt() @Min(1) @Max(1_000_000) edition?: number
  @IsOptional() @IsString() @MaxLength(200) question?: string
  @IsOptional() @IsBoolean() first?: boolean
}

/** Counts a look of somebody whom nothing is known of: nothing is kept but the sum. Machines count for nothing. */
export default defineEventHandler(async event => {
  await limit(event, 'views')
  const { value, flaws } = check(LookBody, parseJson(await readText(event)))
  if (!value) throw problem(422, 'Some fields are wrong; see the list.', flaws)
  const { kind, path, point, landing, edition, question, first } = value
  const key = landing === undefined ? point : `/p/${landing}`
  if (key && !agentOf(header(event, 'user-agent') ?? '').robot) {
    const look = {
      kind,
      page: ((await hostOf(event))?.address ?? ownAddress()) + path,
      edition,
      question,
      ...(first && { first: true as const }),
    }
    await trailContext().take({ batches: [], points: [key], looks: [{ point: key, look }] })
  }
  return sendNoContent(event)
})
