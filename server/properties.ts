import { ArrayMaxSize, ArrayUnique, IsArray, IsBoolean, IsIn, IsOptional, IsString, Length, Matches, MaxLength } from 'class-validator'
import { LIMITS } from '#core/points/definition'
import { BUILT_IN, PROPERTY_KINDS, SENSITIVITIES, type Property, type PropertyKind, type Sensitivity } from '#core/properties/kinds'
import { problem } from '#server/problem'
import { ListOf } from '#core/validate'

class ChoiceBody {
  @IsString() @Length(1, 300) @Matches(/\S/, { message: 'A choice needs something to store' }) value!: string
  @IsString() @Length(1, 300) @Matches(/\S/, { message: 'A choice needs a text' }) text!: string
}

/** A property as a member writes it. Its key and kind are settled when it is made. */
export class PropertyBody {
  @IsString() @MaxLength(80) @Matches(/\S/, { message: 'Give the property a name' }) label!: string
  @IsIn(SENSITIVITIES) sensitivity!: Sensitivity
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(LIMITS.choices)
  @ArrayUnique((c: ChoiceBody) => c?.value?.trim?.().toLowerCase(), { message: 'Two choices are the same' })
  @ListOf(() => ChoiceBody)
  choices?: ChoiceBody[]

  @IsOptional() @IsBoolean() retired?: boolean
}

export class NewPropertyBody extends PropertyBody {
  @IsIn(PROPERTY_KINDS, { message: `The kind must be one of ${PROPERTY_KINDS.join(', ')}` }) kind!: PropertyKind
}

/** The choices of a property, as far as its kind has some. @throws 422 when it needs some and has none */
export function choicesFor(kind: PropertyKind, given: ChoiceBody[] | undefined): Property['choices'] {
  if (kind !== 'one_of' && kind !== 'some_of') return []
  const choices = (given ?? []).map(c => ({ value: c.value.trim(), text: c.text.trim() }))
  if (choices.length < 2)
    throw problem(422, 'This kind needs at least two choices.', [{ field: 'choices', message: 'This kind needs at least two choices.' }])
  return choices
}

/** @throws 422 for what a house cannot do without */
export function mayRetire(key: string): void {
  if ((BUILT_IN as readonly string[]).includes(key))
    throw problem(422, 'Each lead has this property; it cannot be retired.', [
      { field: 'retired', message: 'Each lead has this property; it cannot be retired.' },
    ])
}
