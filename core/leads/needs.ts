import { some, type ActivityTest, type Condition } from '#core/conditions/condition'
import type { Need } from '#core/leads/attributes/attribute'
import { attributeOf } from '#core/leads/attributes/registry'
import type { Beside } from '#core/leads/beside'

/** What judging some conditions takes beside the leads. */
export interface Needs {
  beside: Set<Need>
  /** Each once, by `testKey`. */
  tests: Map<string, ActivityTest>
}

const keys = new WeakMap<ActivityTest, string>()
/** A test's own word: equal for tests that ask the same. */
export function testKey(test: ActivityTest): string {
  let key = keys.get(test)
  if (key === undefined) keys.set(test, (key = JSON.stringify([test.did, test.where, test.times, test.days])))
  return key
}

/** What judging these conditions (segments written out) takes. */
export function needsOf(conditions: Iterable<Condition>, needs: Needs = { beside: new Set(), tests: new Map() }): Needs {
  for (const condition of conditions) {
    some(condition, test => {
      if ('did' in test) needs.tests.set(testKey(test), test)
      else for (const need of attributeOf(test.attribute)?.needs ?? []) needs.beside.add(need)
      // Into what an activity's own tests ask nobody has to look: they ask about the activity.
      return false
    })
  }
  return needs
}

/** Whether a condition (segments written out) asks for what a scorecard makes: fit, interest, the label. */
export const asksForScore = (condition: Condition): boolean =>
  some(condition, test => 'attribute' in test && Boolean(attributeOf(test.attribute)?.isOfScore))

export const needsNothing = (needs: Needs): boolean => !needs.beside.size && !needs.tests.size

/** What there is of somebody who is new: nothing. */
export const nothingBeside = (needs: Needs): Beside => ({
  lists: [],
  lastEntryAt: null,
  visits: { first: null, latest: null, lastAt: null },
  moments: new Map([...needs.tests.keys()].map(key => [key, []])),
})
