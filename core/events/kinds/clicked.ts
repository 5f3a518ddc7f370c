import { IsOptional, IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'

/** They followed the link of a mail. */
export class Clicked {
  @IsOptional() @IsString() subject?: string
}
export const clicked = eventKind({
  payload: Clicked,
  sentence: ({ subject }) => ['Followed the link of a mail ', { faint: subject ? `“${subject}”` : '' }],
  redacted: () => ({}),
})
