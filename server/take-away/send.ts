import { pipeline, Readable } from 'node:stream'
import { stringify } from 'csv-stringify'
import { sendStream, setResponseHeaders, type H3Event } from 'h3'
import { problem } from '#server/problem'
import { harmless } from '#server/take-away/harmless'
import type { Sheet } from '#server/take-away/sheet'
import { xlsxOf } from '#server/take-away/xlsx'

export const FORMATS = ['csv', 'xlsx'] as const
export type Format = (typeof FORMATS)[number]

const TYPES: Record<Format, string> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
}
/**
 * Sends tables while they are read: CSV (the first one, with a byte order mark, by which spreadsheets know UTF-8), or XLSX with a sheet each.
 * @param name of the file, without its ending
 */
export async function sendSheets(event: H3Event, format: Format, name: string, sheets: [Sheet, ...Sheet[]]) {
  const file =
    name
      .replace(/[^\p{L}\p{N} _-]+/gu, '')
      .trim()
      .slice(0, 80) || 'table'
  setResponseHeaders(event, {
    'content-type': TYPES[format],
    'content-disposition': `attachment; filename="${format === 'csv' ? 'table.csv' : 'table.xlsx'}"; filename*=UTF-8''${encodeURIComponent(file)}.${format}`,
    'cache-control': 'no-store',
  })
  return await sendStream(event, format === 'csv' ? csvOf(sheets.at(-1)!) : xlsxOf(sheets))
}

function csvOf({ columns, rows }: Sheet): Readable {
  async function* lines() {
    yield columns.map(harmless)
    for await (const row of rows)
      yield row.map(cell => (cell instanceof Date ? cell.toISOString() : typeof cell === 'string' ? harmless(cell) : (cell ?? '')))
  }
  const written = stringify({ bom: true, record_delimiter: 'windows' })
  // Either end that breaks off ends the other: the database's reading, too.
  pipeline(Readable.from(lines()), written, () => {})
  return written
}

/** A format by its name. @throws 422 */
export function formatOf(as: unknown): Format {
  const format = FORMATS.find(f => f === as)
  if (format) return format
  throw problem(422, 'The query cannot be read; see the list.', [{ field: 'as', message: 'Take it away as csv or as xlsx.' }])
}
