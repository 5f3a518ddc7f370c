import { IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'
import type { PropertyValue } from '#core/properties/kinds'
import { IsTextOrTexts, ListOf } from '#core/validate'

/** A property that a table filled: what stood there before (null: nothing) and what stands there since. */
export class Filled {
  @IsString() property!: string
  @IsOptional() @IsTextOrTexts() was!: PropertyValue | null
  @IsTextOrTexts() now!: PropertyValue
}

/** A table brought them in; of who was known, it filled something. */
export class BroughtIn {
  @IsString() list!: string
  @IsOptional() @ListOf(() => Filled) filled?: Filled[]
}
export const broughtIn = eventKind({
  payload: BroughtIn,
  sentence: ({ list, filled }, told): Sentence => {
    if (!filled) return [`Brought in by ${who(told)} `, { faint: `with the list “${list}”` }]
    const what = filled.map(f => told.names.property(f.property)).join(', ')
    return [`${who(told)} brought in more about them`, ...(what ? [': ', { strong: what }] : []), ' ', { faint: `with the list “${list}”` }]
  },
  redacted: ({ list, filled }) => ({ list, ...(filled && { filled: [] }) }),
})
