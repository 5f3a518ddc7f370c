/**
 * The one condition: a nested all/any/none tree over named facts.
 * Scoring and routing use it; whatever selects people is to use it too.
 */
export type Condition =
  | { all: Condition[] }
  | { any: Condition[] }
  | { none: Condition[] }
  | { fact: string; is: Comparison; value?: Scalar | Scalar[] }

export type Scalar = string | number | boolean
export type Comparison = 'equal' | 'not_equal' | 'one_of' | 'contains' | 'starts_with' | 'at_least' | 'at_most' | 'filled' | 'empty'
export const COMPARISONS: Comparison[] = ['equal', 'not_equal', 'one_of', 'contains', 'starts_with', 'at_least', 'at_most', 'filled', 'empty']

/** What a condition looks at: `property.sector`, `tag`, `label`, `page.path`… → the value, undefined when unknown. */
export type Facts = (name: string) => unknown

const DEEPEST = 8

/**
 * Whether a condition holds. Texts compare without regard to case; a list
 * (tags) holds when one of its items does; an unknown fact holds only for `empty` and `not_equal`.
 */
export function holds(condition: Condition, facts: Facts): boolean {
  if ('all' in condition) return condition.all.every(c => holds(c, facts))
  if ('any' in condition) return condition.any.some(c => holds(c, facts))
  if ('none' in condition) return !condition.none.some(c => holds(c, facts))
  const found = facts(condition.fact)
  const values = (Array.isArray(found) ? found : [found]).filter(v => v !== undefined && v !== null && v !== '')
  if (condition.is === 'empty') return values.length === 0
  if (condition.is === 'filled') return values.length > 0
  if (condition.is === 'not_equal') return !values.some(v => compare(v, 'equal', condition.value))
  return values.some(v => compare(v, condition.is, condition.value))
}

function compare(found: unknown, is: Comparison, wanted: Scalar | Scalar[] | undefined): boolean {
  if (Array.isArray(wanted)) return is === 'one_of' && wanted.some(w => compare(found, 'equal', w))
  if (wanted === undefined) return false
  if (is === 'at_least') return Number(found) >= Number(wanted)
  if (is === 'at_most') return Number(found) <= Number(wanted)
  const [a, b] = [fold(found), fold(wanted)]
  if (is === 'contains') return a.includes(b)
  if (is === 'starts_with') return a.startsWith(b)
  return a === b
}

const fold = (value: unknown) => String(value).normalize('NFC').toLowerCase()

/**
 * Reads a condition out of an untrusted value.
 * @throws TypeError naming the path of what is wrong
 */
export function readCondition(value: unknown, path = 'condition', depth = 0): Condition {
  if (depth > DEEPEST) throw new TypeError(`${path} is nested more than ${DEEPEST} deep`)
  if (typeof value !== 'object' || value === null) throw new TypeError(`${path} must be an object`)
  const record = value as Record<string, unknown>
  for (const join of ['all', 'any', 'none'] as const) {
    if (!(join in record)) continue
    const parts = record[join]
    if (!Array.isArray(parts) || Object.keys(record).length > 1) throw new TypeError(`${path}.${join} must be a list and stand alone`)
    const read = parts.map((part, i) => readCondition(part, `${path}.${join}.${i}`, depth + 1))
    return { [join]: read } as Condition
  }
  if (typeof record.fact !== 'string' || !record.fact) throw new TypeError(`${path}.fact must name a fact`)
  if (!COMPARISONS.includes(record.is as Comparison)) throw new TypeError(`${path}.is must be one of ${COMPARISONS.join(', ')}`)
  const needsValue = record.is !== 'filled' && record.is !== 'empty'
  if (needsValue && record.value === undefined) throw new TypeError(`${path}.value is missing`)
  if ((record.is === 'one_of') !== Array.isArray(record.value)) throw new TypeError(`${path}.value must be a list with one_of, and only there`)
  return { fact: record.fact, is: record.is as Comparison, ...(needsValue && { value: record.value as Scalar | Scalar[] }) }
}
