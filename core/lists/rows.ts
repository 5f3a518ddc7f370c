import { parse, CsvError } from 'csv-parse/sync'
import type { TableRow } from '#core/lists/people'

const MOST_IN_A_ROW = 100_000

/** A table that cannot be read, with what to do about it. */
export class BadTable extends Error {
  override name = 'BadTable'
}

/**
 * The rows of a CSV table, with commas, semicolons or tabs between the cells, each with the line in which it begins. Empty lines are
 * passed over.
 * @throws BadTable where it cannot be read
 */
export function rowsOf(csv: string): TableRow[] {
  // One kind of line end: the parser counts the two signs of the other kind apart where they stand in a cell.
  const text = csv.replace(/\r\n?/g, '\n')
  // What stands between quotation marks parts no cells.
  const first =
    text
      .slice(0, MOST_IN_A_ROW)
      .replace(/"(?:[^"]|"")*"/g, '')
      .split('\n')
      .find(line => line.trim()) ?? ''
  const delimiter = [',', ';', '\t'].sort((a, b) => first.split(b).length - first.split(a).length)[0]!
  const rows: TableRow[] = []
  let ended = 0
  try {
    parse(text, {
      bom: true,
      delimiter,
      relax_column_count: true,
      relax_quotes: true,
      skip_empty_lines: true,
      max_record_size: MOST_IN_A_ROW,
      info: true,
      raw: true,
      onRecord: (({ info, raw, record }: { info: { lines: number }; raw: string; record: string[] }) => {
        const own = raw.replace(/^\n+|\n+$/g, '')
        ended = info.lines
        rows.push({ line: ended - (own.split('\n').length - 1), cells: record })
        return null
      }) as never,
    })
  } catch (error) {
    if (!(error instanceof CsvError)) throw error
    const left = text.split('\n').slice(ended)
    const line =
      ended +
      1 +
      Math.max(
        0,
        left.findIndex(l => l !== ''),
      )
    throw new BadTable(inWords(error.code, line))
  }
  return rows
}

/** What stops the reading of a table, as somebody would say it who has it open. */
function inWords(code: string, line: number): string {
  if (code === 'CSV_QUOTE_NOT_CLOSED' || code === 'CSV_MAX_RECORD_SIZE') {
    return `In the row that begins in line ${line}, a quotation mark (") opens and nothing closes it. Take it out or close it, and choose the file again.`
  }
  return `The table cannot be read from line ${line} on. Save it as CSV once more, and choose that file.`
}
