/**
 * The one condition: a nested all/any/none tree over named attributes, and over what somebody did.
 * Scoring, routing, appearing and segments use it; whatever selects people is to use it too.
 */
export type Condition = { all: Condition[] } | { any: Condition[] } | { none: Condition[] } | Test | ActivityTest

export interface Test {
  attribute: string
  is: Comparison
  value?: Scalar | Scalar[]
}
/** Something done at least so often, in the last so many days (null: ever). `where` asks about the single activity. */
export interface ActivityTest {
  did: ActivityKind
  where: Condition | null
  times: number
  days: number | null
}

export const ACTIVITY_KINDS = [
  'page',
  'visit',
  'entry',
  'unfinished',
  'seen',
  'started',
  'left',
  'finished',
  'mark',
  'file',
  'event',
] as const
export type ActivityKind = (typeof ACTIVITY_KINDS)[number]

export type Scalar = string | number | boolean
export type Comparison =
  'equal' | 'not_equal' | 'one_of' | 'contains' | 'starts_with' | 'at_least' | 'at_most' | 'within_days' | 'older_days' | 'filled' | 'empty'
export const COMPARISONS: Comparison[] = [
  'equal',
  'not_equal',
  'one_of',
  'contains',
  'starts_with',
  'at_least',
  'at_most',
  'within_days',
  'older_days',
  'filled',
  'empty',
]

/** What a condition looks at: `property.sector`, `tag`, `label`, `page.path`… → the value, undefined when unknown. */
export type Attributes = (name: string) => unknown
/** What else is known of a person: the time (milliseconds since 1970), and whether they did something. */
export interface Past {
  now: number
  did: (test: ActivityTest) => boolean
}

/**
 * What may be asked, by who is asked about (`askable.ts` has them). A condition is read against one of these, so that an attribute
 * that nobody knows is refused where it is written, and never looked up among what every object has.
 * @param did the activity whose `where` asks; null outside of one
 */
export type Askable = (attribute: string, did: ActivityKind | null) => boolean

const DEEPEST = 8
/** Values that `one_of` may name. */
const MOST_VALUES = 200
const DAY = 86_400_000

/**
 * Whether a condition holds. Texts compare without regard to case; a list
 * (tags) holds when one of its items does; an unknown attribute holds only for `empty` and `not_equal`.
 * @param past without it nothing was ever done, and nothing is some days old
 */
export function holds(condition: Condition, attributes: Attributes, past?: Past): boolean {
  if ('all' in condition) return condition.all.every(c => holds(c, attributes, past))
  if ('any' in condition) return condition.any.some(c => holds(c, attributes, past))
  if ('none' in condition) return !condition.none.some(c => holds(c, attributes, past))
  if ('did' in condition) return Boolean(past?.did(condition))
  return isTrue(condition, attributes(condition.attribute), past?.now)
}

/** What is known of an attribute, as a list: a list counts each of its items. */
export const valuesOf = (found: unknown): unknown[] => (Array.isArray(found) ? found.filter(isKnown) : isKnown(found) ? [found] : [])

/** Whether a test is true of what was found. @param now without it nothing is some days old */
export function isTrue({ is, value }: Test, found: unknown, now?: number): boolean {
  const values = valuesOf(found)
  if (is === 'empty') return values.length === 0
  if (is === 'filled') return values.length > 0
  if (is === 'not_equal') return !values.some(v => compare(v, 'equal', value))
  return values.some(v => compare(v, is, value, now))
}

const isKnown = (value: unknown) => value !== undefined && value !== null && value !== ''

function compare(found: unknown, is: Comparison, wanted: Scalar | Scalar[] | undefined, now?: number): boolean {
  if (Array.isArray(wanted)) return is === 'one_of' && wanted.some(w => compare(found, 'equal', w))
  if (wanted === undefined) return false
  if (is === 'at_least' || is === 'at_most') {
    const [a, b] = [ordered(found), ordered(wanted)]
    return typeof a === typeof b && a !== null && b !== null && (is === 'at_least' ? a >= b : a <= b)
  }
  if (is === 'within_days' || is === 'older_days') {
    const day = dayOf(found)
    if (now === undefined || !day) return false
    const from = daysBefore(now, wanted)
    return is === 'older_days' ? day < from : day >= from && day <= daysBefore(now, 0)
  }
  if (found === wanted) return true
  const [a, b] = [fold(found), fold(wanted)]
  if (is === 'contains') return a.includes(b)
  if (is === 'starts_with') return a.startsWith(b)
  return a === b
}

/** The same few words are compared over and over; what strangers write must not fill the memory. */
const folded = new Map<string, string>()
const MOST_FOLDED = 4_000
const LONGEST_FOLDED = 60
function fold(value: unknown): string {
  const text = typeof value === 'string' ? value : String(value)
  const known = folded.get(text)
  if (known !== undefined) return known
  const now = text.normalize('NFC').toLowerCase()
  if (text.length <= LONGEST_FOLDED) {
    if (folded.size >= MOST_FOLDED) folded.clear()
    folded.set(text, now)
  }
  return now
}
/** What can be more or less: a number, or a day; null for other texts. */
export function ordered(value: unknown): number | string | null {
  const text = String(value)
  return /^-?\d{1,15}(\.\d{1,15})?$/.test(text) ? Number(text) : dayOf(text)
}
const dayOf = (value: unknown) => /^\d{4}-\d\d-\d\d/.exec(String(value))?.[0] ?? null
/** The day, in UTC, so many days before a moment. */
export const daysBefore = (now: number, days: unknown): string =>
  new Date(now - Math.min(36_500, Math.max(0, Number(days) || 0)) * DAY).toISOString().slice(0, 10)

/**
 * Reads a condition out of an untrusted value.
 * @param askable what may be asked there
 * @throws TypeError naming the path of what is wrong
 */
export function readCondition(value: unknown, path: string, askable: Askable): Condition {
  return read(value, path, askable, null, 0)
}

/** @param did the activity whose `where` is read */
function read(value: unknown, path: string, askable: Askable, did: ActivityKind | null, depth: number): Condition {
  if (depth > DEEPEST) throw new TypeError(`${path} is nested more than ${DEEPEST} deep`)
  if (typeof value !== 'object' || value === null) throw new TypeError(`${path} must be an object`)
  const record = value as Record<string, unknown>
  for (const join of ['all', 'any', 'none'] as const) {
    if (!(join in record)) continue
    const parts = record[join]
    if (!Array.isArray(parts) || Object.keys(record).length > 1) throw new TypeError(`${path}.${join} must be a list and stand alone`)
    if (parts.length > 100) throw new TypeError(`${path}.${join} must have at most 100 parts`)
    return { [join]: parts.map((part, i) => read(part, `${path}.${join}.${i}`, askable, did, depth + 1)) } as Condition
  }
  if ('did' in record) return readActivityTest(record, path, askable, depth)
  // Archives from before call it a fact, and *submitted* given.
  const named = record.attribute ?? record.fact
  const attribute = named === 'given' ? 'submitted' : named
  if (typeof attribute !== 'string' || !attribute || attribute.length > 200) throw new TypeError(`${path}.attribute must name an attribute`)
  if (!askable(attribute, did)) throw new TypeError(`${path}.attribute asks for “${attribute.slice(0, 60)}”, which is not known here`)
  if (!COMPARISONS.includes(record.is as Comparison)) throw new TypeError(`${path}.is must be one of ${COMPARISONS.join(', ')}`)
  const needsValue = record.is !== 'filled' && record.is !== 'empty'
  if (needsValue && record.value === undefined) throw new TypeError(`${path}.value is missing`)
  if ((record.is === 'one_of') !== Array.isArray(record.value))
    throw new TypeError(`${path}.value must be a list with one_of, and only there`)
  if (Array.isArray(record.value) && record.value.length > MOST_VALUES)
    throw new TypeError(`${path}.value must have at most ${MOST_VALUES} parts`)
  if (needsValue && ![record.value].flat().every(isScalar)) throw new TypeError(`${path}.value must be a text, a number, or yes or no`)
  return { attribute, is: record.is as Comparison, ...(needsValue && { value: record.value as Scalar | Scalar[] }) }
}

const isScalar = (v: unknown) =>
  (typeof v === 'string' && v.length <= 2000) || typeof v === 'boolean' || (typeof v === 'number' && Number.isFinite(v))

function readActivityTest(record: Record<string, unknown>, path: string, askable: Askable, depth: number): ActivityTest {
  const { did, times = 1, days = null, where = null } = record
  if (!ACTIVITY_KINDS.includes(did as ActivityKind)) throw new TypeError(`${path}.did must be one of ${ACTIVITY_KINDS.join(', ')}`)
  if (!Number.isInteger(times) || (times as number) < 1 || (times as number) > 1000)
    throw new TypeError(`${path}.times must be a whole number from 1 to 1000`)
  if (days !== null && (!Number.isInteger(days) || (days as number) < 1 || (days as number) > 3650))
    throw new TypeError(`${path}.days must be a whole number from 1 to 3650`)
  const which = where === null ? null : read(where, `${path}.where`, askable, did as ActivityKind, depth + 1)
  if (which && some(which, c => 'did' in c)) throw new TypeError(`${path}.where must not ask for another activity`)
  return { did: did as ActivityKind, where: which, times: times as number, days: days as number | null }
}

/** Whether some test of a condition is like this. */
export function some(condition: Condition, like: (test: Test | ActivityTest) => boolean): boolean {
  const parts = partsOf(condition)
  if (parts) return parts.some(c => some(c, like))
  const test = condition as Test | ActivityTest
  return like(test) || ('did' in test && test.where !== null && some(test.where, like))
}

/** A condition with its tests changed; groups stay. */
export function mapTests(condition: Condition, change: (test: Test | ActivityTest) => Condition): Condition {
  if ('all' in condition) return { all: condition.all.map(c => mapTests(c, change)) }
  if ('any' in condition) return { any: condition.any.map(c => mapTests(c, change)) }
  if ('none' in condition) return { none: condition.none.map(c => mapTests(c, change)) }
  return change(condition)
}

/** The parts of a group; null for a test. */
export const partsOf = (c: Condition): Condition[] | null => ('all' in c ? c.all : 'any' in c ? c.any : 'none' in c ? c.none : null)

/** How many tests stand in a condition, with what they ask of activities. */
export function sizeOf(condition: Condition): number {
  const parts = partsOf(condition)
  if (parts) return parts.reduce((sum, c) => sum + sizeOf(c), 1)
  return 1 + ('did' in condition && condition.where ? sizeOf(condition.where) : 0)
}

/** The attributes that a condition asks about, not what somebody did. */
export function attributesIn(condition: Condition): string[] {
  return partsOf(condition)?.flatMap(attributesIn) ?? ('attribute' in condition ? [condition.attribute] : [])
}
