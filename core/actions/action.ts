import type { Case } from '#core/capture/case'
import type { Condition } from '#core/conditions/condition'
import type { PropertyChange } from '#core/events/kinds/entry'
import type { Book, Rules, Tools } from '#core/leads/book'
import type { PeopleRules, PointDefinition } from '#core/points/definition'
import type { PropertyValue } from '#core/properties/kinds'
import type { Surroundings } from '#core/points/surroundings'

/**
 * When actions are carried out: `said` with what somebody says, before they are judged by it; `promised` when it is settled who
 * answers for them; `told` last, when all else is as it will be. The stages of the cause decide which of them come at all
 * (`core/leads/causes`).
 */
export type Moment = 'said' | 'promised' | 'told'

/** What actions work on. */
export interface Acting {
  rules: Rules
  tools: Tools
  book: Book
  /** The entry that they follow, and what comes of it. */
  step: Case
  /** What asks for the actions, by its name. */
  through: string
  /** What is changed of somebody who is known: as the point says. */
  known: PeopleRules['known'] | 'new'
  /** Properties that stand otherwise now; told with the entry. */
  changed: PropertyChange[]
}

/** What keeps a definition with an action from going live, and how to put it right. `field` is a path behind the action's own. */
export interface ActionFlaw {
  field: string
  message: string
  mend?: { name: string; apply: (definition: PointDefinition) => PointDefinition }
}

/** All that one kind of action does, beside what it says (`shape.ts` in its folder). */
export interface ActionKind<A> {
  moment: Moment
  act: (action: A, acting: Acting) => void
  /** What it asks beside its own condition: that is loaded. */
  asks?: (action: A) => Condition[]
  /** @param definition what it stands in @param around what there is */
  flaws?: (action: A, definition: PointDefinition, around: Surroundings) => ActionFlaw[]
  /** In words about whoever it is done to, as those read it who look over what a point does. */
  says: (action: A, names: Names) => string
}

/** How things are called that actions name. */
export interface Names {
  label: (key: string) => string
  property: (key: string) => string
  member: (id: string) => string
  list: (id: string) => string
  value: (property: string, value: PropertyValue) => string
}
