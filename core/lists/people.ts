import { parseEmail } from '#core/identity/email'
import type { Property, PropertyValue } from '#core/properties/kinds'
import { readValue, type Reading } from '#core/points/values'

/** A table that was brought in can be taken back for so many days. */
export const IMPORT_DAYS = 30

/** A column of a table of people, and the property that it fills; null: it is passed over. */
export interface TableColumn {
  header: string
  property: string | null
}
export interface TablePerson {
  line: number
  email: string
  emailKey: string
  values: Record<string, PropertyValue>
}
/** A row of a table, and the line of the file in which it begins; the first line is 1. */
export interface TableRow {
  line: number
  cells: string[]
}
/** What is wrong with a line of a table. */
export interface LineFlaw {
  line: number
  message: string
}
/** An address that stands in several rows, by the lines in which they begin. */
export interface Repeat {
  email: string
  lines: number[]
}

/**
 * Which row counts of those with the same address: the last one, the first one, or all together, where the later word counts and
 * what it leaves empty stays.
 */
export const ROW_COUNTS = ['together', 'last', 'first'] as const
export type RowCounts = (typeof ROW_COUNTS)[number]

const bare = (text: string) =>
  text
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '')
/** What people call the built-in properties in their own tables. */
const ALSO: Record<string, string[]> = {
  email: ['mail', 'emailaddress', 'address'],
  first_name: ['givenname', 'forename'],
  last_name: ['familyname', 'surname', 'name'],
  company: ['firm', 'organisation', 'organization'],
  phone: ['telephone', 'tel', 'mobile'],
}

/** Which property each column fills, as far as its header tells: each property once, files never. */
export function guessColumns(headers: string[], properties: Property[]): TableColumn[] {
  const free = new Map(
    properties
      .filter(p => !p.retired && p.kind !== 'file')
      .flatMap(p => [p.label, p.key, ...(ALSO[p.key] ?? [])].map(name => [bare(name), p.key] as const))
      .reverse(),
  )
  const taken = new Set<string>()
  return headers.map(header => {
    const property = free.get(bare(header)) ?? null
    if (property === null || taken.has(property)) return { header, property: null }
    taken.add(property)
    return { header, property }
  })
}

/** The people of a table, whose addresses came more than once, and what is wrong with it. */
export interface TablePeople {
  people: TablePerson[]
  repeats: Repeat[]
  flaws: LineFlaw[]
}

/**
 * Reads the people of a table. Who comes twice is one person.
 * @param rows without the headers
 */
export function readPeople(
  rows: TableRow[],
  columns: TableColumn[],
  properties: Property[],
  reading: Reading,
  counts: RowCounts = 'together',
): TablePeople {
  const people = new Map<string, TablePerson>()
  const lines = new Map<string, number[]>()
  const flaws: LineFlaw[] = []
  const at = columns.findIndex(c => c.property === 'email')
  for (const { line, cells: row } of rows) {
    if (row.every(cell => !cell.trim())) continue
    const email = parseEmail(row[at] ?? '')
    if (!email) {
      flaws.push({
        line,
        message: row[at]?.trim() ? `“${row[at].trim().slice(0, 60)}” is not a complete e-mail address.` : 'There is no e-mail address.',
      })
      continue
    }
    const values: TablePerson['values'] = {}
    for (const [n, { property: key, header }] of columns.entries()) {
      const cell = row[n]?.trim() ?? ''
      const property = properties.find(p => p.key === key)
      if (!property || key === 'email' || !cell) continue
      const read = readCell(property, cell, reading)
      if ('value' in read) values[property.key] = read.value
      else flaws.push({ line, message: `${header}: ${read.flaw} What stands there is left out.` })
    }
    const before = people.get(email.key)
    lines.set(email.key, [...(lines.get(email.key) ?? []), line])
    if (before && counts === 'first') continue
    const kept = counts === 'together' ? before?.values : {}
    people.set(email.key, {
      line: before?.line ?? line,
      email: before?.email ?? email.address,
      emailKey: email.key,
      values: { ...kept, ...values },
    })
  }
  const repeats = [...people.values()].map(p => ({ email: p.email, lines: lines.get(p.emailKey)! })).filter(r => r.lines.length > 1)
  return { people: [...people.values()], repeats, flaws }
}

/** Choices by what is kept or by what people read, several of them parted by commas or semicolons. */
function readCell(property: Property, cell: string, reading: Reading) {
  const choice = (text: string) => property.choices.find(c => [c.value, c.text].some(t => bare(t) === bare(text)))?.value ?? text
  if (property.kind === 'yes_no')
    return readValue(property as never, /^(y|yes|true|1|x)$/i.test(cell) ? 'yes' : /^(n|no|false|0)$/i.test(cell) ? 'no' : cell, reading)
  if (property.kind === 'one_of') return readValue(property as never, choice(cell), reading)
  if (property.kind === 'some_of')
    return readValue(
      property as never,
      cell
        .split(/[,;]/)
        .map(t => choice(t.trim()))
        .filter(Boolean),
      reading,
    )
  return readValue({ kind: property.kind } as never, cell, reading)
}
