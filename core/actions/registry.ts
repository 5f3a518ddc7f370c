import type { Acting, ActionFlaw, ActionKind, Moment, Names } from '#core/actions/action'
import { label } from '#core/actions/kinds/label/action'
import { list } from '#core/actions/kinds/list/action'
import { mail } from '#core/actions/kinds/mail/action'
import { nextStep } from '#core/actions/kinds/next-step/action'
import { owner } from '#core/actions/kinds/owner/action'
import { property } from '#core/actions/kinds/property/action'
import { tag } from '#core/actions/kinds/tag/action'
import { tell } from '#core/actions/kinds/tell/action'
import { fits } from '#core/actions/only-if'
import type { Action, ActionName, ActionOf } from '#core/actions/shapes'
import type { Condition } from '#core/conditions/condition'
import type { PointDefinition } from '#core/points/definition'
import type { Surroundings } from '#core/points/surroundings'

/** What each kind of action does. A kind without its doing does not compile. */
export const ACTION_KINDS: { [K in ActionName]: ActionKind<ActionOf<K>> } = {
  label,
  tag,
  list,
  property,
  owner,
  next_step: nextStep,
  tell,
  mail,
}
const kindOf = (action: Action) => ACTION_KINDS[action.kind] as unknown as ActionKind<Action>

/** Carries out those actions whose moment it is and that are for whom it is, in their order. */
export function carryOut(actions: Action[], moment: Moment, acting: Acting): void {
  for (const action of actions)
    if (kindOf(action).moment === moment && fits(action.when ?? null, acting)) kindOf(action).act(action, acting)
}

/** The conditions that actions ask: what they ask about must be loaded. */
export const askedBy = (actions: Action[]): Condition[] =>
  actions.flatMap(action => [...(action.when ? [action.when] : []), ...(kindOf(action).asks?.(action) ?? [])])

/** What keeps a definition from going live because of its actions; `frame` is where in the storyboard it is mended. */
export const flawsOf = (definition: PointDefinition, around: Surroundings): (ActionFlaw & { kind: ActionName })[] =>
  definition.actions.flatMap((action, i) =>
    (kindOf(action).flaws?.(action, definition, around) ?? []).map(flaw => ({
      ...flaw,
      kind: action.kind,
      field: `actions.${i}.${flaw.field}`,
    })),
  )

/** What is done, in sentences about whoever it is done to. */
export const inSentences = (actions: Action[], names: Names): string[] => actions.map(action => kindOf(action).says(action, names))
