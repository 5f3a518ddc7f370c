import { IsString } from 'class-validator'
import { eventKind, who } from '#core/events/kind'

/** Two leads that had been joined were taken apart again. */
export class Split {
  /** The other one's id and name. */
  @IsString() lead!: string
  @IsString() name!: string
}
export const split = eventKind({
  payload: Split,
  sentence: ({ name }, told) => [`${who(told)} took this lead and `, { strong: name }, ' apart again'],
  redacted: ({ lead }) => ({ lead, name: 'somebody' }),
})
