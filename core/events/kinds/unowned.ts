import { IsISO8601, IsOptional, IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'

/** Nobody could be given the lead yet: it waits for a lane until a moment, or there was nobody at all. */
export class Unowned {
  @IsOptional() @IsString() lane!: string | null
  @IsOptional() @IsISO8601() until!: string | null
}
export const unowned = eventKind({
  payload: Unowned,
  sentence: ({ lane, until }) =>
    until === null
      ? ['Nobody could take it: all are away or have enough', { faint: ' it is tried again' }]
      : ['Waits for ', { strong: lane ?? 'a lane' }, ' until ', { moment: until }, ' ', { faint: 'when somebody is at work' }],
  redacted: payload => payload,
})
