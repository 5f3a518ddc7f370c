import { parse } from 'csv-parse/sync'
import type { H3Event } from 'h3'
import { LEARN_LIMITS, type Row } from '#core/learning/table'
import { MOST_RULES } from '#core/learning/learn'
import type { LearnInput, LearnJobOptions } from '#db/learn-jobs'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'
import { mediaType, parseJson, readText } from '#server/wire'

/** Bytes of rows that may be sent at once. */
export const MOST_ROW_BYTES = 48 * 1024 * 1024

const wrong = (field: string, message: string) => problem(422, 'Some fields are wrong; see the list.', [{ field, message }])
export const isRow = (value: unknown): value is Row => typeof value === 'object' && value !== null && !Array.isArray(value)

/** Rows out of an untrusted value. @throws 422 */
export function readRows(value: unknown): Row[] {
  if (!Array.isArray(value)) throw wrong('rows', 'Send a list of rows, each an object of columns.')
  if (value.length > LEARN_LIMITS.rows)
    throw wrong('rows', `${value.length} rows are more than can be taken at once; send at most ${LEARN_LIMITS.rows}.`)
  const at = value.findIndex(row => !isRow(row))
  if (at >= 0) throw wrong(`rows.${at}`, 'A row is an object: names of columns, and what stands there.')
  return value as Row[]
}
const whole = (value: unknown, field: string, preset: number, least: number, most: number): number => {
  if (value === undefined || value === null) return preset
  if (!Number.isInteger(value) || (value as number) < least || (value as number) > most)
    throw wrong(field, `Send a whole number from ${least} to ${most}.`)
  return value as number
}
const options = (body: Record<string, unknown>): LearnJobOptions => ({
  maxRules: whole(body.maxRules, 'maxRules', 20, 1, MOST_RULES),
  seed: whole(body.seed, 'seed', 1, 0, 2 ** 31 - 1),
})

/** What a program wants learned: rows with outcomes as JSON, a table as CSV, or the leads of a segment. @throws 4xx in words */
export async function readAsked(
  event: H3Event,
  query: Record<string, unknown>,
  ruleset: Ruleset,
): Promise<{ input: LearnInput; options: LearnJobOptions }> {
  if (mediaType(event) === 'text/csv') {
    const number = (name: string) => (query[name] === undefined ? undefined : Number(query[name]))
    return {
      input: fromTable(await readText(event, MOST_ROW_BYTES), query.outcome),
      options: options({ maxRules: number('maxRules'), seed: number('seed') }),
    }
  }
  const body = parseJson(await readJsonText(event))
  if (!isRow(body)) throw problem(422, 'Send an object with rows and their outcome, or with a segment.')
  if (body.segment !== undefined) return { input: ofSegment(body, ruleset), options: options(body) }
  const rows = readRows(body.rows)
  return { input: { rows, outcome: readOutcome(body.outcome, rows.length) }, options: options(body) }
}
async function readJsonText(event: H3Event): Promise<string> {
  if (mediaType(event) !== 'application/json') throw problem(415, 'Send JSON (application/json), or a table (text/csv).')
  return readText(event, MOST_ROW_BYTES)
}

function readOutcome(value: unknown, rows: number): number[] {
  if (!Array.isArray(value)) throw wrong('outcome', 'Send a list of outcomes: 0 or 1 for each row.')
  if (value.length !== rows) throw wrong('outcome', `There are ${rows} rows and ${value.length} outcomes; each row needs one.`)
  return value.map((o, i) => {
    if (o === true || o === 1) return 1
    if (o === false || o === 0) return 0
    throw wrong(`outcome.${i}`, 'An outcome is 0 or 1.')
  })
}

const YES = new Set(['1', 'true', 'yes', 'won'])
const NO = new Set(['0', 'false', 'no', 'lost', ''])
/** A table of past customers; nobody becomes a lead by it. @param column whose values are the outcomes */
export function fromTable(csv: string, column: unknown): LearnInput {
  if (typeof column !== 'string' || !column) throw wrong('outcome', 'Say which column holds the outcome: ?outcome=NAME.')
  let rows: Record<string, string>[]
  try {
    rows = parse(csv, { columns: true, bom: true, skip_empty_lines: true, trim: true, relax_column_count: true, to: LEARN_LIMITS.rows + 1 })
  } catch (error) {
    throw problem(422, `The table cannot be read: ${(error as Error).message.split('\n')[0]}`)
  }
  readRows(rows)
  if (!rows.length || !Object.hasOwn(rows[0]!, column))
    throw wrong(
      'outcome',
      `The table has no column “${column}”. It has: ${
        Object.keys(rows[0] ?? {})
          .slice(0, 20)
          .join(', ') || 'none'
      }.`,
    )
  const outcome = rows.map((row, i) => {
    const said = row[column]!.toLowerCase()
    if (YES.has(said)) return 1
    if (NO.has(said)) return 0
    throw wrong(
      'outcome',
      `In line ${i + 2} the outcome is “${row[column]!.slice(0, 40)}”. Write 1 (or yes) for those who came to it, and 0 (or no) for the others.`,
    )
  })
  return { rows: rows.map(({ [column]: _, ...rest }) => rest), outcome }
}

function ofSegment(body: Record<string, unknown>, ruleset: Ruleset): LearnInput {
  if (typeof body.segment !== 'string' || !ruleset.segments.has(body.segment)) throw wrong('segment', 'There is no segment with this id.')
  return leadsToLearn(body, ruleset, body.segment)
}
/** Whose leads, by which goal. @throws 422 */
export function leadsToLearn(
  body: { goal?: unknown; days?: unknown; span?: unknown; sensitive?: unknown },
  ruleset: Ruleset,
  segment: string | null,
): LearnInput {
  const goal = body.goal ?? 'won'
  if (goal !== 'won' && !ruleset.statuses.some(s => s.key === goal)) throw wrong('goal', 'Send the key of a status, or “won”.')
  return {
    segment,
    goal: goal as string,
    days: whole(body.days, 'days', 7, 0, 365),
    span: whole(body.span, 'span', 730, 1, 3650),
    sensitive: body.sensitive === true,
  }
}
