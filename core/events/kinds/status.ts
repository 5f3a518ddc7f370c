import { IsInt, IsISO8601, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** The follow-up stands elsewhere. */
export class StatusSet {
  @IsString() from!: string
  @IsString() to!: string
  @IsOptional() @IsString() reason?: string
  /** In the smallest unit of the house's currency. */
  @IsOptional() @IsInt() value?: number
  @IsOptional() @IsString() on?: string
  @IsOptional() @IsISO8601() until?: string
}
export const status = eventKind({
  payload: StatusSet,
  sentence: ({ from, to, reason, value, until }, told): Sentence => [
    `${who(told)} set `,
    { strong: told.names.status(to) },
    ...(value !== undefined ? [`, ${told.names.money(value)}`] : []),
    ...(until ? [' until ', { moment: until }] : []),
    ...(reason ? [`: ${reason}`] : []),
    ' ',
    { faint: `before: ${told.names.status(from)}` },
  ],
  redacted: ({ reason: _, ...payload }) => payload,
})
