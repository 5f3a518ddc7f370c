import { IsOptional, IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'
import { PropertyChange } from '#core/events/kinds/entry'
import type { PropertyValue } from '#core/properties/kinds'
import { IsTextOrTexts, ListOf } from '#core/validate'

/** An answer before and after, in words and, beside its question's key, as it was given. */
export class AnswerChange {
  @IsString() question!: string
  @IsString() from!: string
  @IsString() to!: string
  @IsOptional() @IsString() key?: string
  @IsOptional() @IsTextOrTexts() was?: PropertyValue
  @IsOptional() @IsTextOrTexts() now?: PropertyValue
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
