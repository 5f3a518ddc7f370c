import { IsIn, IsOptional, IsString, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { CALL_RESULTS, type CallResult } from '#core/follow-up/state'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class CallBody {
  @IsIn(CALL_RESULTS, { message: `Say what came of it: ${CALL_RESULTS.join(', ')}` }) result!: CallResult
  @IsOptional() @IsString() @MaxLength(20_000) text?: string
}

export default defineEventHandler(event =>
  actOn(event, async () => {
    const { result, text } = await readChecked(event, CallBody)
    return { do: 'call', result, ...(text?.trim() && { text: text.trim() }) }
  }),
)
