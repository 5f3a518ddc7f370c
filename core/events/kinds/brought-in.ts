import { IsString } from 'class-validator'
import { eventKind, who } from '#core/events/kind'

/** A table brought them in. */
export class BroughtIn {
  @IsString() list!: string
}
export const broughtIn = eventKind({
  payload: BroughtIn,
  sentence: ({ list }, told) => [`Brought in by ${who(told)} `, { faint: `with the list “${list}”` }],
  redacted: payload => payload,
})
