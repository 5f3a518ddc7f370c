import { IsOptional, IsString } from 'class-validator'
import { eventKind, who } from '#core/events/kind'

/** Somebody of us wrote something down. */
export class Noted {
  @IsOptional() @IsString() text?: string
}
export const note = eventKind({
  payload: Noted,
  sentence: (_, told) => [{ faint: `${who(told)} noted` }],
  redacted: () => ({}),
})
