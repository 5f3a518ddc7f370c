import { parse, CsvError } from 'csv-parse/sync'
import { guessColumns, readPeople, type LineFlaw, type TableColumn, type TablePerson } from '#core/lists/people'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

const MOST_PEOPLE = 20_000

/** A table as it was read: what its columns would fill, who is in it, and what is wrong with it. */
export interface Table { columns: TableColumn[]; people: TablePerson[]; flaws: LineFlaw[] }

/**
 * Reads a table of people: CSV, with commas, semicolons or tabs between the cells.
 * @param chosen which property each column fills, where somebody said so; else its header tells
 * @throws 422 with what is wrong with the table as a whole
 */
export function readTable(csv: string, chosen: (string | null)[] | null, ruleset: Ruleset): Table {
  const wrong = (message: string) => problem(422, message, [{ field: 'csv', message }])
  let rows: string[][]
  try {
    const first = csv.slice(0, csv.search(/\r?\n|$/))
    const delimiter = [',', ';', '\t'].sort((a, b) => first.split(b).length - first.split(a).length)[0]!
    rows = parse(csv, { bom: true, delimiter, relax_column_count: true, skip_empty_lines: true, max_record_size: 100_000 })
  } catch (error) {
    if (!(error instanceof CsvError)) throw error
    throw wrong(`The table cannot be read: ${error.message.replace(/\.?$/, '.')} Save it as CSV once more, and try again.`)
  }
  const headers = rows.shift()
  if (!headers || !rows.length) throw wrong('The table needs a first line with the names of its columns, and at least one person under it.')
  if (rows.length > MOST_PEOPLE) throw wrong(`At most ${MOST_PEOPLE} people fit in one go; there are ${rows.length}. Cut the table in two.`)
  const keys = ruleset.properties.map(p => p.key)
  const columns = chosen ? headers.map((header, i) => ({ header, property: keys.includes(chosen[i] ?? '') ? chosen[i]! : null })) : guessColumns(headers, ruleset.properties)
  const filled = columns.flatMap(c => c.property ?? [])
  if (new Set(filled).size < filled.length) throw wrong('Two columns fill the same property. Choose one of them.')
  if (!filled.includes('email')) return { columns, people: [], flaws: [{ line: 1, message: 'No column holds the e-mail addresses. Say which one does.' }] }
  return { columns, ...readPeople(rows, columns, ruleset.properties, ruleset.reading) }
}
