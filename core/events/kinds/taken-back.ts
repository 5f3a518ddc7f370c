import { IsString } from 'class-validator'
import { eventKind, who } from '#core/events/kind'

/** What a table had done to them was taken back. */
export class TakenBack {
  @IsString() list!: string
}
export const takenBack = eventKind({
  payload: TakenBack,
  sentence: ({ list }, told) => [`${who(told)} took back what the table for the list `, { strong: `“${list}”` }, ' had brought'],
  redacted: payload => payload,
})
