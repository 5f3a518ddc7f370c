import { IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'
import { PropertyChange } from '#core/events/kinds/entry'
import { ListOf } from '#core/validate'

class AnswerChange {
  @IsString() question!: string
  @IsString() from!: string
  @IsString() to!: string
}

/** They corrected what an entry said. */
export class Corrected {
  @IsString() entry!: string
  @IsString() point!: string
  @ListOf(() => AnswerChange) answers!: AnswerChange[]
  @ListOf(() => PropertyChange) changed!: PropertyChange[]
}
export const corrected = eventKind({
  payload: Corrected,
  sentence: ({ point }) => ['Corrected what they sent through ', { strong: point }],
  redacted: ({ entry, point }) => ({ entry, point, answers: [], changed: [] }),
})
