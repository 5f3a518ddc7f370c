import { IsOptional, IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'

/** They want no more mails. */
export class Unsubscribed {
  @IsOptional() @IsString() email?: string
}
export const unsubscribed = eventKind({
  payload: Unsubscribed,
  sentence: () => ['Wants no more mails from us'],
  redacted: () => ({}),
})
