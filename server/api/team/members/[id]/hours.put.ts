import { ArrayMaxSize, ArrayUnique, IsArray, IsIn, IsInt, IsOptional, IsTimeZone, Max, Min } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { LANGUAGE_KEYS } from '#core/languages/language'
import type { DaySpan } from '#core/working-time'
import { IsWeek } from '#core/working-week'
import { setAvailability } from '#db/members'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class Hours {
  @IsOptional() @IsWeek() week!: DaySpan[][] | null
  @IsOptional() @IsTimeZone() zone!: string | null
  @IsOptional() @IsInt() @Min(0) @Max(100_000) mostOpen!: number | null
  @IsArray() @ArrayMaxSize(40) @ArrayUnique() @IsIn(LANGUAGE_KEYS, { each: true }) languages!: string[]
}

/** When a colleague works, how many open leads they take on, and what they speak; what is null is as in the firm. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit plan')
  const { week = null, zone = null, mostOpen = null, languages } = await readChecked(event, Hours)
  const { count } = await setAvailability(database(), idFrom(event), { week, zone, mostOpen, languages })
  if (!count) throw problem(404, 'There is no such colleague.')
  await changed({ colleagues: true })
  return sendNoContent(event)
})
