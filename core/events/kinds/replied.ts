import { IsBoolean, IsOptional, IsString } from 'class-validator'
import { eventKind, type Sentence } from '#core/events/kind'

/** They answered a mail of one of us. */
export class Replied {
  @IsString() subject!: string
  @IsString() text!: string
  @IsOptional() @IsString() quoted?: string
  /** The address it came from, where that is not theirs. */
  @IsOptional() @IsString() from?: string
  /** A program of theirs answered: they are away, or the like. */
  @IsOptional() @IsBoolean() auto?: boolean
}
export const replied = eventKind({
  payload: Replied,
  sentence: ({ subject, from, auto }): Sentence => [
    auto ? 'An automatic answer came: ' : 'They answered ',
    { strong: subject },
    ...(from ? [' ', { faint: `from ${from}, which is not the address we know` }] : []),
  ],
  redacted: ({ auto }) => ({ subject: '', text: '', ...(auto && { auto }) }),
})
