import { IsIn, IsISO8601, IsOptional, IsString } from 'class-validator'
import { eventKind, type Sentence } from '#core/events/kind'

/** Who was lost or parked is worked on again: they wrote, or it was time. */
export class Woke {
  @IsString() from!: string
  @IsISO8601() since!: string
  @IsIn(['entry', 'time']) by!: 'entry' | 'time'
  @IsOptional() @IsString() reason?: string
}
export const woke = eventKind({
  payload: Woke,
  sentence: ({ from, since, by, reason }, { names }): Sentence => [
    by === 'entry' ? 'Came back: was ' : 'Woke up, as it was to: was ',
    { strong: names.status(from) },
    ' since ',
    { moment: since },
    ...(reason ? [{ faint: `: ${reason}` }] : []),
  ],
  redacted: ({ reason: _, ...payload }) => payload,
})
