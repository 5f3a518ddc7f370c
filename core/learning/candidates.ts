import type { Condition } from '#core/conditions/condition'
import type { Table } from '#core/learning/table'

/** A condition that a rule may have, with the rows of which it holds. */
export interface Candidate {
  when: Condition
  /** The places of the rows, in order. */
  rows: Int32Array
  /** The columns that it asks for. */
  columns: number[]
}

/** Numbers with more values than this are cut at so many places of equal count. */
const MOST_VALUES = 24
const CUTS = 19
/** A condition holds of so many at least, and not of so many. */
export const supportFor = (rows: number): number => Math.max(8, Math.ceil(rows * 0.005))

/**
 * All that a single column may be asked: each choice, each value or bound of a number, and that nothing is known.
 * @param counts columns whose names begin so count something: only how often at least is asked
 */
export function singleCandidates(table: Table, counts?: string): Candidate[] {
  const least = supportFor(table.rows)
  const found: Candidate[] = []
  const seen = new Set<string>()
  const add = (when: Condition, column: number, rows: number[]) => {
    if (rows.length < least || table.rows - rows.length < least) return
    // What holds of the same people is the same.
    const print = printOf(rows)
    if (seen.has(print)) return
    seen.add(print)
    found.push({ when, rows: Int32Array.from(rows), columns: [column] })
  }
  table.columns.forEach((column, c) => {
    const attribute = column.name
    const missing: number[] = []
    if (column.kind === 'choice') {
      const by = new Map<number, number[]>()
      column.codes.forEach((codes, i) => {
        if (!codes.length) missing.push(i)
        for (const code of codes) {
          const own = by.get(code)
          if (own) own.push(i)
          else by.set(code, [i])
        }
      })
      for (const [code, rows] of by) add({ attribute, is: 'equal', value: column.names[code]! }, c, rows)
    } else {
      const { values } = column
      const known: number[] = []
      values.forEach((v, i) => (Number.isNaN(v) ? missing : known).push(i))
      const sorted = Float64Array.from(known, i => values[i]!).sort()
      const distinct = [...new Set(sorted)]
      const cuts =
        distinct.length <= MOST_VALUES
          ? distinct.slice(1)
          : [...new Set(Array.from({ length: CUTS }, (_, k) => sorted[Math.floor(((k + 1) * sorted.length) / (CUTS + 1))]!))]
      if (distinct.length <= MOST_VALUES && !(counts && attribute.startsWith(counts)))
        for (const value of distinct)
          add(
            { attribute, is: 'equal', value },
            c,
            known.filter(i => values[i] === value),
          )
      for (const value of cuts) {
        add(
          { attribute, is: 'at_least', value },
          c,
          known.filter(i => values[i]! >= value),
        )
        // The other side of a bound is another question only where some have no value.
        if (missing.length)
          add(
            { attribute, is: 'at_most', value: below(distinct, value) },
            c,
            known.filter(i => values[i]! < value),
          )
      }
    }
    if (missing.length) add({ attribute, is: 'empty' }, c, missing)
  })
  return found
}
const below = (distinct: number[], value: number) => distinct[distinct.indexOf(value) - 1] ?? value

function printOf(rows: ArrayLike<number>): string {
  let a = 0x811c9dc5
  let b = 0x1000193
  for (let i = 0; i < rows.length; i++) {
    a = Math.imul(a ^ rows[i]!, 0x01000193)
    b = Math.imul(b + rows[i]! + 1, 0x85ebca6b) ^ (b >>> 13)
  }
  return `${rows.length} ${a >>> 0} ${b >>> 0}`
}

/** Both at once; null where that holds of too few, or of as many as one of them. */
export function pairOf(a: Candidate, b: Candidate, least: number): Candidate | null {
  const rows: number[] = []
  for (let i = 0, j = 0; i < a.rows.length && j < b.rows.length;) {
    const [x, y] = [a.rows[i]!, b.rows[j]!]
    if (x === y) {
      rows.push(x)
      i++
      j++
    } else if (x < y) i++
    else j++
  }
  if (rows.length < least || rows.length > 0.95 * Math.min(a.rows.length, b.rows.length)) return null
  const parts = [a.when, b.when].flatMap(w => ('all' in w ? w.all : [w]))
  return { when: { all: parts }, rows: Int32Array.from(rows), columns: [...a.columns, ...b.columns] }
}
