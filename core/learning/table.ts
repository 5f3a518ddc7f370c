/** A row as it comes: names of columns, and what stands there; a list counts each of its items. */
export type Row = Record<string, unknown>

/** A column, read: numbers (NaN where nothing stands), or choices by their codes (a row may have several, or none). */
export type Column = { name: string } & (
  { kind: 'number'; values: Float64Array } | { kind: 'choice'; names: string[]; codes: Int32Array[] }
)

export interface Table {
  rows: number
  columns: Column[]
  /** What was left out or read in a way that one might not expect, in sentences. */
  notes: string[]
}

/** As much as is learned from; more is refused. */
export const LEARN_LIMITS = { rows: 100_000, columns: 500, cells: 12_000_000, choices: 1000 } as const
const NUMBER = /^-?\d{1,15}(\.\d{1,15})?$/
/** A text that is no choice: nearly each row has its own. */
const OWN_SHARE = 0.5

const isKnown = (v: unknown) => v !== undefined && v !== null && v !== ''
const textOf = (v: unknown) => (typeof v === 'object' ? JSON.stringify(v) : String(v)).slice(0, 200)

/**
 * Reads rows into columns. Numbers may stand as texts; a column with other texts is one of choices.
 * @throws RangeError in words, where there is too little or too much
 */
export function readTable(rows: Row[]): Table {
  if (rows.length > LEARN_LIMITS.rows)
    throw new RangeError(`${rows.length} rows are more than can be learned from at once; send at most ${LEARN_LIMITS.rows}, drawn by lot.`)
  const names = new Set<string>()
  for (const row of rows) for (const name of Object.keys(row)) if (name.length <= 200) names.add(name)
  if (names.size > LEARN_LIMITS.columns) throw new RangeError(`There are ${names.size} columns; send at most ${LEARN_LIMITS.columns}.`)
  if (names.size * rows.length > LEARN_LIMITS.cells)
    throw new RangeError(
      `${rows.length} rows of ${names.size} columns are too much at once; send fewer of either (${LEARN_LIMITS.cells} values at most).`,
    )
  const notes: string[] = []
  const columns = [...names].sort().flatMap(name => readColumn(name, rows, notes) ?? [])
  return { rows: rows.length, columns, notes }
}

function readColumn(name: string, rows: Row[], notes: string[]): Column | null {
  const cells = rows.map(row => (Object.hasOwn(row, name) ? [row[name]].flat().filter(isKnown) : []))
  const known = cells.flat()
  const distinct = new Set(known.map(textOf))
  const missing = cells.some(c => !c.length)
  if (!known.length || (distinct.size === 1 && !missing)) {
    notes.push(`“${name}” is the same everywhere and tells nothing; it was left out.`)
    return null
  }
  const isNumber = (v: unknown) => (typeof v === 'number' && Number.isFinite(v)) || (typeof v === 'string' && NUMBER.test(v))
  const numbers = known.filter(isNumber).length
  if (numbers === known.length && cells.every(c => c.length <= 1))
    return { name, kind: 'number', values: Float64Array.from(cells, c => (c.length ? Number(c[0]) : NaN)) }
  if (numbers > 0) notes.push(`“${name}” holds numbers and texts; each was read as a choice.`)
  if (distinct.size > 50 && distinct.size > OWN_SHARE * known.length) {
    notes.push(`“${name}” says something else in nearly each row and tells nothing of others; it was left out.`)
    return null
  }
  const codes = new Map<string, number>()
  const own = cells.map(c =>
    Int32Array.from(
      new Set(
        c.map(v => {
          const key = textOf(v).normalize('NFC').toLowerCase()
          if (!codes.has(key)) codes.set(key, codes.size)
          return codes.get(key)!
        }),
      ),
    ),
  )
  const first = new Map<number, string>()
  for (const v of known) {
    const code = codes.get(textOf(v).normalize('NFC').toLowerCase())!
    if (!first.has(code)) first.set(code, textOf(v))
  }
  if (codes.size > LEARN_LIMITS.choices) notes.push(`Of “${name}” only what stands there often was looked at.`)
  return { name, kind: 'choice', names: [...codes.values()].map(code => first.get(code)!), codes: own }
}

/** Some rows of a table. */
export const rowsOf = ({ columns, notes }: Table, which: ArrayLike<number>): Table => ({
  rows: which.length,
  notes,
  columns: columns.map(c =>
    c.kind === 'number'
      ? { ...c, values: Float64Array.from({ length: which.length }, (_, i) => c.values[which[i]!]!) }
      : { ...c, codes: Array.from({ length: which.length }, (_, i) => c.codes[which[i]!]!) },
  ),
})
