import { IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'
import type { PropertyValue } from '#core/properties/kinds'
import { IsTextOrTexts } from '#core/validate'

/** One of us wrote something else down about them; null: nothing. */
export class Edited {
  @IsString() property!: string
  @IsOptional() @IsTextOrTexts() was!: PropertyValue | null
  @IsOptional() @IsTextOrTexts() now!: PropertyValue | null
}
export const edited = eventKind({
  payload: Edited,
  sentence: ({ property, now }, told): Sentence => [
    `${who(told)} ${now === null || now === undefined ? 'emptied' : 'changed'} `,
    { strong: told.names.property(property) },
  ],
  redacted: ({ property }) => ({ property, was: null, now: null }),
})
