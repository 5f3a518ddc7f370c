import { holds, type Condition } from '#core/conditions/condition'
import type { Row } from '#core/learning/table'

/** A rule over rows. */
export interface LearnedRule {
  when: Condition
  points: number
}

type Judge = (row: Row) => boolean

/** A condition as a function of a row; it holds just where `holds` says so, and is quicker on plain numbers and texts. */
function judgeOf(condition: Condition): Judge {
  if ('all' in condition) {
    const parts = condition.all.map(judgeOf)
    if (parts.length === 2) return row => parts[0]!(row) && parts[1]!(row)
    return row => parts.every(p => p(row))
  }
  const slow: Judge = row => holds(condition, name => (Object.hasOwn(row, name) ? row[name] : undefined))
  if (!('attribute' in condition)) return slow
  const { attribute, is, value } = condition
  if (is === 'equal' && typeof value === 'number')
    return row => {
      const found = row[attribute]
      return typeof found === 'number' ? found === value : slow(row)
    }
  if ((is === 'at_least' || is === 'at_most') && typeof value === 'number') {
    const least = is === 'at_least'
    return row => {
      const found = row[attribute]
      // Numbers that a condition would not read as such are none.
      return typeof found === 'number' && Number.isInteger(found) ? (least ? found >= value : found <= value) : slow(row)
    }
  }
  if (is === 'equal' && typeof value === 'string') {
    const known = new Map<string, boolean>()
    return row => {
      const found = row[attribute]
      if (typeof found !== 'string') return slow(row)
      const before = known.get(found)
      if (before !== undefined) return before
      const now = slow(row)
      if (known.size < 10_000) known.set(found, now)
      return now
    }
  }
  return slow
}

/** What rules give a row, together. */
export function scorerOf(rules: LearnedRule[]): (row: Row) => number {
  const judges = rules.map(r => judgeOf(r.when))
  const points = rules.map(r => r.points)
  return row => {
    let sum = 0
    for (let j = 0; j < judges.length; j++) if (judges[j]!(row)) sum += points[j]!
    return sum
  }
}
/** What rules give each row. */
export const scoreRows = (rules: LearnedRule[], rows: Row[]): number[] => rows.map(scorerOf(rules))
