import { IsOptional, IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'

/** They showed that an address is theirs. */
export class Confirmed {
  @IsOptional() @IsString() email?: string
}
export const confirmed = eventKind({
  payload: Confirmed,
  sentence: ({ email }) => [`Confirmed that ${email ?? 'an address'} is theirs`],
  redacted: () => ({}),
})
