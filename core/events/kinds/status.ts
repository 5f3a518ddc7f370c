import { IsString } from 'class-validator'
import { eventKind, who } from '#core/events/kind'

/** The follow-up stands elsewhere. */
export class StatusSet {
  @IsString() from!: string
  @IsString() to!: string
}
export const status = eventKind({
  payload: StatusSet,
  sentence: ({ from, to }, told) => [`${who(told)} set `, { strong: told.names.status(to) }, ' ', { faint: `before: ${told.names.status(from)}` }],
  redacted: payload => payload,
})
