import { IsOptional, IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'

/** They typed an address and did not send it. */
export class Typed {
  @IsOptional() @IsString() email?: string
}
export const typed = eventKind({
  payload: Typed,
  sentence: ({ email }) => [`Typed ${email ?? 'an address'} and did not send it `, { faint: 'not sent yet' }],
  redacted: () => ({}),
})
