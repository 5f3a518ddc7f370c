import { IsString } from 'class-validator'
import { eventKind, who } from '#core/events/kind'

/** This lead was found to be the same person as another, and went into it. */
export class MergedInto {
  @IsString() lead!: string
  @IsString() name!: string
}
export const mergedInto = eventKind({
  payload: MergedInto,
  sentence: ({ name }, told) => [`${who(told)} joined this lead with `, { strong: name }, ', where it went on'],
  redacted: ({ lead }) => ({ lead, name: 'somebody' }),
})
