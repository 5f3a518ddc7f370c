import { Readable } from 'node:stream'
import yazl from 'yazl'
import { escapeHtml } from '#core/text'
import { harmless } from '#server/take-away/harmless'
import type { Cell, Sheet } from '#server/take-away/sheet'

/**
 * Workbooks as they are read: SpreadsheetML (ECMA-376, part 1, 18) in a ZIP file, of which nothing is kept but the row in hand. What
 * it takes of that format are texts and numbers in sheets, with a bold first row that stays in sight.
 */

/** The format's own bounds: letters of a cell, letters of a sheet's name. */
const MOST_IN_CELL = 32_767
const MOST_IN_NAME = 31
const AT_ONCE = 200

const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>'
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006'
const SHEETML = 'application/vnd.openxmlformats-officedocument.spreadsheetml'

/** A text as XML holds it: without what no XML document may say. */

const text = (value: string) => escapeHtml(value.toWellFormed().replace(/[\x00-\x08\x0B\x0C\x0E-\x1F\uFFFE\uFFFF]/g, ''))

/** The letters of a column, counted from 0: A to Z, then AA. */
const lettersOf = (column: number): string =>
  (column < 26 ? '' : lettersOf(Math.floor(column / 26) - 1)) + String.fromCharCode(65 + (column % 26))

function cellXml(cell: Cell, at: string, style: string): string {
  if (cell === null || cell === undefined || cell === '') return ''
  if (typeof cell === 'number') return Number.isFinite(cell) ? `<c r="${at}"${style}><v>${cell}</v></c>` : ''
  const words = cell instanceof Date ? cell.toISOString() : harmless(cell).slice(0, MOST_IN_CELL)
  return `<c r="${at}" t="inlineStr"${style}><is><t xml:space="preserve">${text(words)}</t></is></c>`
}
const rowXml = (row: Cell[], n: number, style = '') =>
  `<row r="${n}">${row.map((cell, i) => cellXml(cell, `${lettersOf(i)}${n}`, style)).join('')}</row>`

async function* sheetXml({ columns, rows }: Sheet): AsyncGenerator<string> {
  yield `${XML}<worksheet xmlns="${MAIN}"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><sheetData>`
  yield rowXml(columns, 1, ' s="1"')
  let n = 1
  let some: string[] = []
  for await (const row of rows) {
    if (some.push(rowXml(row, ++n)) < AT_ONCE) continue
    yield some.join('')
    some = []
  }
  yield `${some.join('')}</sheetData></worksheet>`
}

/** What stands in the file beside the sheets. */
function parts(sheets: Sheet[]): Record<string, string> {
  const each = (write: (n: number, sheet: Sheet) => string) => sheets.map((sheet, i) => write(i + 1, sheet)).join('')
  const nameOf = (sheet: Sheet) => text(sheet.name.replace(/[[\]*?:/\\']/g, ' ').slice(0, MOST_IN_NAME))
  return {
    '[Content_Types].xml':
      `${XML}<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>` +
      `<Override PartName="/xl/workbook.xml" ContentType="${SHEETML}.sheet.main+xml"/><Override PartName="/xl/styles.xml" ContentType="${SHEETML}.styles+xml"/>` +
      `${each(n => `<Override PartName="/xl/worksheets/sheet${n}.xml" ContentType="${SHEETML}.worksheet+xml"/>`)}</Types>`,
    '_rels/.rels': `${XML}<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="r1" Type="${OFFICE}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `${XML}<workbook xmlns="${MAIN}" xmlns:r="${OFFICE}"><sheets>${each((n, sheet) => `<sheet name="${nameOf(sheet)}" sheetId="${n}" r:id="r${n}"/>`)}</sheets></workbook>`,
    'xl/_rels/workbook.xml.rels':
      `${XML}<Relationships xmlns="${PACKAGE}/relationships">` +
      `${each(n => `<Relationship Id="r${n}" Type="${OFFICE}/worksheet" Target="worksheets/sheet${n}.xml"/>`)}<Relationship Id="r0" Type="${OFFICE}/styles" Target="styles.xml"/></Relationships>`,
    'xl/styles.xml':
      `${XML}<styleSheet xmlns="${MAIN}"><fonts count="2"><font/><font><b/></font></fonts><fills count="1"><fill/></fills><borders count="1"><border/></borders>` +
      `<cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="2"><xf/><xf fontId="1" applyFont="1"/></cellXfs></styleSheet>`,
  }
}

/** A workbook with a sheet for each table, sent while they are read. */
export function xlsxOf(sheets: Sheet[]): Readable {
  const file = new yazl.ZipFile()
  for (const [path, content] of Object.entries(parts(sheets))) file.addBuffer(Buffer.from(content), path)
  const out = file.outputStream as Readable
  for (const [i, sheet] of sheets.entries()) {
    const read = Readable.from(sheetXml(sheet), { objectMode: false })
    // Either end that breaks off ends the other: the database's reading, too.
    read.on('error', error => out.destroy(error))
    out.on('close', () => read.destroy())
    file.addReadStream(read, `xl/worksheets/sheet${i + 1}.xml`)
  }
  file.end()
  return out
}
