import { IsInt, IsISO8601, IsOptional, IsRFC3339, IsString, Matches, Max, MaxLength, Min } from 'class-validator'
import { defineEventHandler } from 'h3'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

const DAY = 'Say the day, as 2026-05-01'
const WHEN = 'Say when to look at them again, as a date and time'

class StatusBody {
  @IsString() @MaxLength(60) status!: string
  /** What stood there for whoever did it. */
  @IsOptional() @IsString() @MaxLength(60) was?: string
  @IsOptional() @IsString() @MaxLength(300) reason?: string
  /** In the smallest unit of the house's currency. */
  @IsOptional() @IsInt() @Min(0) @Max(1_000_000_000_000) value?: number
  @IsOptional() @IsISO8601({ strict: true }, { message: DAY }) @Matches(/^\d{4}-\d\d-\d\d$/, { message: DAY }) on?: string
  @IsOptional() @IsRFC3339({ message: WHEN }) @IsISO8601({ strict: true }, { message: WHEN }) until?: string
}

export default defineEventHandler(event =>
  actOn(event, async () => {
    const { status, was, reason, value, on, until } = await readChecked(event, StatusBody)
    const outcome = {
      ...(reason?.trim() && { reason: reason.trim() }),
      ...(value !== undefined && value !== null && { value }),
      ...(on && { on }),
    }
    return {
      do: 'status',
      status,
      ...(was && { was }),
      ...(Object.keys(outcome).length > 0 && { outcome }),
      ...(until && { until: new Date(until) }),
    }
  }),
)
