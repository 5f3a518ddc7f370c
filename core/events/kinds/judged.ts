import { IsBoolean, IsOptional, IsString } from 'class-validator'
import { eventKind, who } from '#core/events/kind'

/** A member said whether an address is theirs. */
export class Judged {
  @IsOptional() @IsString() email?: string
  @IsBoolean() theirs!: boolean
}
export const judged = eventKind({
  payload: Judged,
  sentence: ({ email, theirs }, told) => [`${who(told)} found out that ${email ?? 'an address'} is ${theirs ? 'theirs' : 'not theirs'}`],
  redacted: ({ theirs }) => ({ theirs }),
})
