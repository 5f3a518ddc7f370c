import { IsIn, IsISO8601, IsString, MaxLength, ValidateIf } from 'class-validator'
import { defineEventHandler } from 'h3'
import { HOLDS, type Hold } from '#core/scoring/label-held'
import { actOn } from '#server/follow-up/act-on'
import { problem } from '#server/problem'
import { readChecked } from '#server/wire'

class HeldLabel {
  /** Null: the score decides again. */
  @ValidateIf((b: HeldLabel) => b.label !== null) @IsString() @MaxLength(60) label!: string | null
  @ValidateIf((b: HeldLabel) => b.label !== null) @IsIn(HOLDS) how!: Hold
  /** Until when; null: for good. */
  @ValidateIf((b: HeldLabel) => b.label !== null && b.until !== null) @IsISO8601({ strict: true }) until!: string | null
  @ValidateIf((b: HeldLabel) => b.label !== null) @IsString() @MaxLength(300) reason!: string
}

const MOST_YEARS_MS = 10 * 366 * 86_400_000

/** Holds a label for a lead, at least or exactly, for a time or for good, with a reason; or lets the score decide again. */
export default defineEventHandler(event =>
  actOn(event, async () => {
    const { label, how, until, reason } = await readChecked(event, HeldLabel)
    if (label === null) return { do: 'label', label, how: 'floor', until: null, reason: '' }
    if (!reason.trim()) throw problem(422, 'Say why.', [{ field: 'reason', message: 'Colleagues will ask why: write it in a few words.' }])
    const end = until === null ? null : new Date(until)
    if (end && !(end.getTime() > Date.now() && end.getTime() < Date.now() + MOST_YEARS_MS))
      throw problem(422, 'That is not a moment to come.', [{ field: 'until', message: 'Choose a day to come, within ten years.' }])
    return { do: 'label', label, how, until: end, reason: reason.trim() }
  }),
)
