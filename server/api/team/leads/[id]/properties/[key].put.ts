import { IsOptional } from 'class-validator'
import { defineEventHandler, getRouterParam } from 'h3'
import type { PropertyValue } from '#core/properties/kinds'
import { IsTextOrTexts } from '#core/validate'
import { actOn } from '#server/follow-up/act-on'
import { readChecked } from '#server/wire'

class ValueBody {
  /** null: nothing is known. */
  @IsOptional() @IsTextOrTexts() value!: PropertyValue | null
  /** What stood there for whoever did it. */
  @IsOptional() @IsTextOrTexts() was?: PropertyValue | null
}

/** Something else is known of them. */
export default defineEventHandler(event =>
  actOn(event, async () => {
    const { value, was } = await readChecked(event, ValueBody)
    return { do: 'edit', property: getRouterParam(event, 'key') ?? '', value: value ?? null, ...(was !== undefined && { was }) }
  }),
)
