import { IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'

/** Somebody sent something for the first time. */
export class Created {
  @IsString() point!: string
}
export const created = eventKind({
  payload: Created,
  sentence: ({ point }) => ['Came to us for the first time, through ', { strong: point }],
  redacted: payload => payload,
})
