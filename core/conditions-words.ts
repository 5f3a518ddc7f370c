import type { Comparison, Condition } from '#core/conditions'

/** How facts and values are called by the people who read a condition. */
export interface Names { fact: (name: string) => string; value: (fact: string, value: unknown) => string }

const WORDS: Record<Comparison, string> = {
  equal: 'is', not_equal: 'is not', one_of: 'is', contains: 'contains', starts_with: 'begins with', at_least: 'is at least', at_most: 'is at most', filled: 'is known', empty: 'is not known',
}

/** A condition as a sentence: `Sector is school or council`. */
export function inWords(condition: Condition, names: Names): string {
  if ('all' in condition) return joined(condition.all, 'and', names)
  if ('any' in condition) return joined(condition.any, 'or', names)
  if ('none' in condition) return condition.none.length ? `not (${joined(condition.none, 'or', names)})` : 'always'
  const values = condition.value === undefined ? [] : [condition.value].flat()
  return [names.fact(condition.fact), WORDS[condition.is], values.map(v => names.value(condition.fact, v)).join(' or ')].filter(Boolean).join(' ')
}

function joined(parts: Condition[], word: string, names: Names): string {
  if (!parts.length) return word === 'and' ? 'always' : 'never'
  return parts.map(p => 'fact' in p || parts.length === 1 ? inWords(p, names) : `(${inWords(p, names)})`).join(` ${word} `)
}
