import { Equals, IsIn, Matches } from 'class-validator'
import { ActionForSome } from '#core/actions/shape'
import { IsPropertyValue } from '#core/properties/value-shape'
import type { PropertyValue } from '#core/properties/kinds'
import { Default } from '#core/shapes'

/** What becomes of what is known already: it goes, it stays, or it grows. */
export const ON_KNOWN = ['replace', 'fill', 'add'] as const

/** Sets a property to the same for everybody. */
export class SetProperty extends ActionForSome {
  @Equals('property') kind!: 'property'
  @Matches(/^[a-z][a-z0-9_]{0,49}$/, { message: 'Name a property by its key' }) property!: string
  @IsPropertyValue() value!: PropertyValue
  @Default('replace') @IsIn(ON_KNOWN) onKnown!: (typeof ON_KNOWN)[number]
}
