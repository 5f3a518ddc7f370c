import type { Comparison, Condition, ActivityKind, ActivityTest } from '#core/conditions/condition'

/** How attributes and values are called by the people who read a condition. */
export interface Names {
  attribute: (name: string) => string
  value: (attribute: string, value: unknown) => string
}

const WORDS: Record<Exclude<Comparison, 'within_days' | 'older_days'>, string> = {
  equal: 'is',
  not_equal: 'is not',
  one_of: 'is',
  contains: 'contains',
  starts_with: 'begins with',
  at_least: 'is at least',
  at_most: 'is at most',
  filled: 'is known',
  empty: 'is not known',
}
/** What people did, as in “they read a page”. */
export const ACTIVITY_WORDS: Record<ActivityKind, string> = {
  page: 'read a page',
  visit: 'visited the site',
  entry: 'sent an entry',
  unfinished: 'left an entry unfinished',
  seen: 'saw a form',
  started: 'began a form',
  left: 'left a form',
  finished: 'finished a form',
  mark: 'clicked on something marked',
  file: 'fetched a file',
  event: 'did what the site told of',
}

/** A condition as a sentence: `Sector is school or council`. */
export function inWords(condition: Condition, names: Names): string {
  if ('all' in condition) return joined(condition.all, 'and', names)
  if ('any' in condition) return joined(condition.any, 'or', names)
  if ('none' in condition) {
    if (!condition.none.length) return 'always'
    return condition.none.every(isOnce)
      ? condition.none.map(activity => neverWords(activity, names)).join(' and ')
      : `not (${joined(condition.none, 'or', names)})`
  }
  if ('did' in condition) return activityWords(condition, names)
  if (condition.is === 'within_days') return `${names.attribute(condition.attribute)} in the last ${condition.value} days`
  if (condition.is === 'older_days') return `${names.attribute(condition.attribute)} over ${condition.value} days ago`
  const values = condition.value === undefined ? [] : [condition.value].flat()
  return [names.attribute(condition.attribute), WORDS[condition.is], values.map(v => names.value(condition.attribute, v)).join(' or ')]
    .filter(Boolean)
    .join(' ')
}

function activityWords({ did, where, times, days }: ActivityTest, names: Names): string {
  return [
    ACTIVITY_WORDS[did],
    where && `(${inWords(where, names)})`,
    times > 1 && `at least ${times} times`,
    days !== null && (days === 1 ? 'in the last day' : `in the last ${days} days`),
  ]
    .filter(Boolean)
    .join(' ')
}

/** Something done at least once, of which can be said that it never was. */
const isOnce = (c: Condition): c is ActivityTest => 'did' in c && c.times === 1
const neverWords = (activity: ActivityTest, names: Names) =>
  `${activity.days === null ? 'never' : 'not once'} ${activityWords(activity, names)}`

/** What needs no brackets beside others. */
const isPlain = (c: Condition) => 'attribute' in c || 'did' in c || ('none' in c && c.none.length === 1 && c.none.every(isOnce))

function joined(parts: Condition[], word: string, names: Names): string {
  if (!parts.length) return word === 'and' ? 'always' : 'never'
  return parts.map(p => (isPlain(p) || parts.length === 1 ? inWords(p, names) : `(${inWords(p, names)})`)).join(` ${word} `)
}
