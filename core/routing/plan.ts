import { ArrayMaxSize, ArrayMinSize, ArrayUnique, Equals, IsArray, IsString, Length, Matches } from 'class-validator'
import { ABOUT_PERSON } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import type { Flaw } from '#core/flaws'
import { ConditionAbout, read } from '#core/shapes'
import { ListOf } from '#core/validate'

export class Lane {
  static tidy = (lane: Lane): Lane => ({ ...lane, pool: [...new Set(lane.pool)] })
  @IsString() @Length(1, 200) key!: string
  @IsString() @Length(1, 200) @Matches(/\S/, { message: 'Each lane needs a name' }) name!: string
  /** null only on the last lane: it takes whoever is left. */
  @ConditionAbout(ABOUT_PERSON) when!: Condition | null
  /** Member ids, in the order of their turns. */
  @IsArray()
  @ArrayMinSize(1, { message: 'Each lane needs at least one person' })
  @ArrayMaxSize(1000)
  @IsString({ each: true })
  pool!: string[]
}
/** The ordered lanes that give a lead an owner. The last one always catches. */
export class RoutingPlan {
  @Equals(1, { message: 'This Cavlin reads plans of version 1' }) version!: 1
  @ArrayMinSize(1, { message: 'A plan has 1 to 100 lanes' })
  @ArrayMaxSize(100)
  @ArrayUnique((lane: Lane) => lane?.key, { message: 'Each lane needs a key of its own' })
  @ListOf(() => Lane)
  lanes!: Lane[]
}

/** Reads a plan out of an untrusted value. */
export function readPlan(plain: unknown): { plan: RoutingPlan; flaws: [] } | { plan: null; flaws: Flaw[] } {
  const { value, flaws } = read(RoutingPlan, plain)
  if (!value) return { plan: null, flaws }
  const wrong = value.lanes.findIndex((lane, i) => (lane.when === null) !== (i === value.lanes.length - 1))
  return wrong < 0
    ? { plan: value, flaws: [] }
    : {
        plan: null,
        flaws: [{ field: `lanes.${wrong}.when`, message: 'The last lane, and only that, takes everyone and has no condition.' }],
      }
}
