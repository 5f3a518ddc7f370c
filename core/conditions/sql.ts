import { daysBefore, ordered, type Condition, type ActivityTest, type Scalar, type Test } from '#core/conditions/condition'

/** A fragment of SQL with its parameters: the strings of a template, and what stands between them. */
export interface Fragment {
  strings: string[]
  values: unknown[]
}

/** Writes a fragment; fragments inside it are taken in, everything else becomes a parameter. */
export function fragment(strings: TemplateStringsArray | string[], ...values: unknown[]): Fragment {
  const out: Fragment = { strings: [strings[0]!], values: [] }
  values.forEach((value, i) => {
    const next = strings[i + 1]!
    if (isFragment(value)) {
      out.strings[out.strings.length - 1] += value.strings[0]!
      out.strings.push(...value.strings.slice(1))
      out.values.push(...value.values)
      out.strings[out.strings.length - 1] += next
    } else {
      out.values.push(value)
      out.strings.push(next)
    }
  })
  return out
}
const isFragment = (value: unknown): value is Fragment =>
  typeof value === 'object' && value !== null && 'strings' in value && 'values' in value
const joined = (fragments: Fragment[], word: ' and ' | ' or ', none: string): Fragment =>
  fragments.length ? fragment(['(', ...fragments.slice(1).map(() => word), ')'], ...fragments) : fragment([none])

/** Where attributes stand: one text (perhaps null), a query of many texts in a column `v`, or the one or the other by the row. */
export type Column = { one: Fragment } | { many: Fragment } | { isMany: Fragment; one: Fragment; many: Fragment }
export interface Columns {
  /** Null for what nobody knows. */
  attribute: (name: string) => Column | null
  did: (test: ActivityTest) => Fragment
  /** Milliseconds since 1970. */
  now: number
}

/** A condition as SQL that is true for exactly those for whom `holds` is. It is never null. */
export function compiled(condition: Condition, columns: Columns): Fragment {
  const inner = (c: Condition) => compiled(c, columns)
  if ('all' in condition) return joined(condition.all.map(inner), ' and ', 'true')
  if ('any' in condition) return joined(condition.any.map(inner), ' or ', 'false')
  if ('none' in condition) return fragment`not ${joined(condition.none.map(inner), ' or ', 'false')}`
  if ('did' in condition) return columns.did(condition)
  return tested(condition, columns)
}

function tested({ attribute, is, value }: Test, { attribute: columnOf, now }: Columns): Fragment {
  const column = columnOf(attribute)
  if (!column) return fragment([is === 'empty' || is === 'not_equal' ? 'true' : 'false'])
  const test = (v: Fragment) =>
    is === 'filled' || is === 'empty'
      ? fragment`${v} <> ''`
      : fragment`${v} <> '' and ${compared(v, is === 'not_equal' ? 'equal' : is, value, now)}`
  // An attribute that is one text is judged where it stands: the planner may do that in parallel, row by row.
  const inOne = (v: Fragment) => fragment`coalesce(${test(fragment`(${v})`)}, false)`
  const inMany = (all: Fragment) => fragment`exists (select from (${all}) f where ${test(fragment(['v']))})`
  const found =
    'isMany' in column
      ? fragment`case when ${column.isMany} then ${inMany(column.many)} else ${inOne(column.one)} end`
      : 'one' in column
        ? inOne(column.one)
        : inMany(column.many)
  return is === 'empty' || is === 'not_equal' ? fragment`not ${found}` : found
}

/**
 * Folded as `holds` folds: by Unicode's own rules, whatever the database's language. A text with as many bytes as
 * letters is ASCII, for which the plain way does the same many times faster.
 */
const folded = (text: Fragment) =>
  fragment`case when octet_length(${text}) = length(${text}) then lower(${text} collate "C") else lower(normalize(${text}, nfc) collate "und-x-icu") collate "C" end`
const NUMBER = '^-?[0-9]{1,15}([.][0-9]{1,15})?$'

function compared(v: Fragment, is: Test['is'], value: Scalar | Scalar[] | undefined, now: number): Fragment {
  if (Array.isArray(value)) return is === 'one_of' ? fragment`${folded(v)} = any(${value.map(plain)}::text[])` : fragment(['false'])
  if (value === undefined) return fragment(['false'])
  if (is === 'within_days')
    return fragment`(${v} ~ '^[0-9]{4}-[0-9]{2}-[0-9]{2}' and left(${v}, 10) collate "C" between ${daysBefore(now, value)}::text and ${daysBefore(now, 0)}::text)`
  if (is === 'older_days')
    return fragment`(${v} ~ '^[0-9]{4}-[0-9]{2}-[0-9]{2}' and left(${v}, 10) collate "C" < ${daysBefore(now, value)}::text)`
  if (is === 'at_least' || is === 'at_most') {
    const bound = ordered(value)
    const sign = fragment([is === 'at_least' ? '>=' : '<='])
    if (typeof bound === 'number')
      return fragment`case when ${v} ~ ${NUMBER}::text then ${v}::numeric ${sign} ${String(value)}::text::numeric else false end`
    return bound === null
      ? fragment(['false'])
      : fragment`(${v} ~ '^[0-9]{4}-[0-9]{2}-[0-9]{2}' and left(${v}, 10) collate "C" ${sign} ${bound}::text)`
  }
  const wanted = plain(value)
  if (is === 'contains') return fragment`strpos(${folded(v)}, ${wanted}::text) > 0`
  if (is === 'starts_with') return fragment`starts_with(${folded(v)}, ${wanted}::text)`
  return fragment`${folded(v)} = ${wanted}::text`
}
const plain = (value: Scalar) => String(value).normalize('NFC').toLowerCase()
