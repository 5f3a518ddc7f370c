import { Matches } from 'class-validator'
import { ABOUT_ENTRY } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import { ConditionMaybe, KEY, KEY_MESSAGE } from '#core/shapes'

/** What all actions have: a key by which two changes of a list of them are told apart. */
export class ActionShape {
  @Matches(KEY, { message: KEY_MESSAGE }) key!: string
}

/** One that may be for some only. */
export class ActionForSome extends ActionShape {
  /** Only where this holds of the lead, their answers, and the result of a quiz. */
  @ConditionMaybe(ABOUT_ENTRY) when?: Condition | null
}
