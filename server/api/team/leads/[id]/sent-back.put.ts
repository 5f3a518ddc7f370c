import { IsIn, IsOptional, IsString, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { SENT_BACK, type SentBackWhy } from '#core/events/kinds/sent-back'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class SentBackBody {
  @IsIn(SENT_BACK, { message: `Say why: ${SENT_BACK.join(', ')}` }) why!: SentBackWhy
  @IsOptional() @IsString() @MaxLength(600) words?: string | null
}

/** Whoever has a lead sends it back with a reason; the scorecard's proof counts it by rule and form. */
export default defineEventHandler(event =>
  actOn(event, async () => {
    const { why, words } = await readChecked(event, SentBackBody)
    return { do: 'sent_back', why, words: words?.trim() ?? '' }
  }),
)
