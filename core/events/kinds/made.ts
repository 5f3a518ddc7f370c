import { IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** One of us wrote them down by hand. */
export class Made {
  /** Where they met. */
  @IsOptional() @IsString() from?: string
}
export const made = eventKind({
  payload: Made,
  sentence: ({ from }, told): Sentence => [`${who(told)} wrote them down`, ...(from ? [': ', from] : [])],
  redacted: () => ({}),
})
