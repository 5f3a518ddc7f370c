import type { Comparison, Condition, DeedKind, DeedTest } from '#core/conditions'

/** How facts and values are called by the people who read a condition. */
export interface Names { fact: (name: string) => string; value: (fact: string, value: unknown) => string }

const WORDS: Record<Exclude<Comparison, 'within_days' | 'older_days'>, string> = {
  equal: 'is', not_equal: 'is not', one_of: 'is', contains: 'contains', starts_with: 'begins with', at_least: 'is at least', at_most: 'is at most',
  filled: 'is known', empty: 'is not known',
}
/** What people did, as in “they read a page”. */
export const DEED_WORDS: Record<DeedKind, string> = {
  page: 'read a page', visit: 'visited the site', entry: 'sent an entry', unfinished: 'left an entry unfinished', seen: 'saw a form', started: 'began a form', left: 'left a form', finished: 'finished a form',
  mark: 'clicked on something marked', file: 'fetched a file', event: 'did what the site told of',
}

/** A condition as a sentence: `Sector is school or council`. */
export function inWords(condition: Condition, names: Names): string {
  if ('all' in condition) return joined(condition.all, 'and', names)
  if ('any' in condition) return joined(condition.any, 'or', names)
  if ('none' in condition) {
    if (!condition.none.length) return 'always'
    return condition.none.every(isOnce) ? condition.none.map(deed => neverWords(deed, names)).join(' and ') : `not (${joined(condition.none, 'or', names)})`
  }
  if ('did' in condition) return deedWords(condition, names)
  if (condition.is === 'within_days') return `${names.fact(condition.fact)} in the last ${condition.value} days`
  if (condition.is === 'older_days') return `${names.fact(condition.fact)} over ${condition.value} days ago`
  const values = condition.value === undefined ? [] : [condition.value].flat()
  return [names.fact(condition.fact), WORDS[condition.is], values.map(v => names.value(condition.fact, v)).join(' or ')].filter(Boolean).join(' ')
}

function deedWords({ did, where, times, days }: DeedTest, names: Names): string {
  return [DEED_WORDS[did], where && `(${inWords(where, names)})`, times > 1 && `at least ${times} times`, days !== null && (days === 1 ? 'in the last day' : `in the last ${days} days`)].filter(Boolean).join(' ')
}

/** Something done at least once, of which can be said that it never was. */
const isOnce = (c: Condition): c is DeedTest => 'did' in c && c.times === 1
const neverWords = (deed: DeedTest, names: Names) => `${deed.days === null ? 'never' : 'not once'} ${deedWords(deed, names)}`

/** What needs no brackets beside others. */
const isPlain = (c: Condition) => 'fact' in c || 'did' in c || ('none' in c && c.none.length === 1 && c.none.every(isOnce))

function joined(parts: Condition[], word: string, names: Names): string {
  if (!parts.length) return word === 'and' ? 'always' : 'never'
  return parts.map(p => isPlain(p) || parts.length === 1 ? inWords(p, names) : `(${inWords(p, names)})`).join(` ${word} `)
}
