import { guessColumns, readPeople, type RowCounts, type TableColumn, type TablePeople } from '#core/lists/people'
import { BadTable, rowsOf } from '#core/lists/rows'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

const MOST_PEOPLE = 20_000
const MOST_SHOWN = 60

/** A table as it was read: what its columns would fill, who is in it, and what is wrong with it. */
export interface Table extends TablePeople {
  columns: TableColumn[]
  /** The first word in each column. */
  examples: string[]
}

const wrong = (message: string) => problem(422, message, [{ field: 'csv', message }])

/**
 * Reads a table of people: CSV, with commas, semicolons or tabs between the cells.
 * @param chosen which property each column fills, where somebody said so; else its header tells
 * @param counts which row counts of those with the same address
 * @throws 422 with what is wrong with the table as a whole
 */
export function readTable(csv: string, chosen: (string | null)[] | null, ruleset: Ruleset, counts: RowCounts = 'together'): Table {
  const [first, ...rows] = read(csv)
  if (!first || !rows.length) throw wrong('The table needs a first line with the names of its columns, and at least one person under it.')
  if (rows.length > MOST_PEOPLE) throw wrong(`At most ${MOST_PEOPLE} people fit in one go; there are ${rows.length}. Cut the table in two.`)
  const headers = first.cells
  const keys = ruleset.properties.map(p => p.key)
  const columns = chosen
    ? headers.map((header, i) => ({ header, property: keys.includes(chosen[i] ?? '') ? chosen[i]! : null }))
    : guessColumns(headers, ruleset.properties)
  const examples = headers.map((_, i) => (rows.find(r => r.cells[i]?.trim())?.cells[i] ?? '').trim().slice(0, MOST_SHOWN))
  const filled = columns.flatMap(c => c.property ?? [])
  if (new Set(filled).size < filled.length) throw wrong('Two columns fill the same property. Choose one of them.')
  if (!filled.includes('email')) {
    const message = 'No column holds the e-mail addresses. Say which one does.'
    return { columns, examples, people: [], repeats: [], flaws: [{ line: first.line, message }] }
  }
  return { columns, examples, ...readPeople(rows, columns, ruleset.properties, ruleset.reading, counts) }
}

function read(csv: string) {
  try {
    return rowsOf(csv)
  } catch (error) {
    throw error instanceof BadTable ? wrong(error.message) : error
  }
}
