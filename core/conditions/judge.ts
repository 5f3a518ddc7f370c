import { daysBefore, isTrue, some, valuesOf, type ActivityTest, type Condition, type Test } from '#core/conditions/condition'

/** Whether a condition holds, and until when that is sure: the earliest moment at which it may change with nobody doing anything. */
export interface Judged {
  holds: boolean
  /** Milliseconds since 1970; Infinity: nothing but a cause changes it. */
  until: number
}

/** Whom a condition asks about, at a moment (milliseconds since 1970). */
export interface Subject {
  now: number
  attribute: (name: string) => unknown
  /** When they did what a test asks for, the latest first; as many as it asks for are enough. */
  moments: (test: ActivityTest) => number[]
  /** When a number that time alone changes comes to lie on the other side of a bound: at least so much, or less; undefined: it does not. */
  reaches: (name: string, value: number) => number | undefined
}

const DAY = 86_400_000

/**
 * As `holds`, with until when. All of some hold for as long as each of them does; they do not for as long as any of those that do
 * not hold stays so. With any and none it is the other way round.
 */
export function judge(condition: Condition, subject: Subject): Judged {
  const holds = judgePart(condition, subject)
  return { holds, until }
}
/** Until when what was judged last is sure. A million leads times dozens of rules are judged at once: nothing is made for each part. */
let until = Infinity

function judgePart(condition: Condition, subject: Subject): boolean {
  if ('attribute' in condition) return judgeTest(condition, subject)
  if ('all' in condition) return together(condition.all, subject, false)
  if ('any' in condition) return together(condition.any, subject, true)
  if ('none' in condition) return !together(condition.none, subject, true)
  return judgeActivity(condition, subject)
}

/** @param decides what one part alone settles: of any, that it holds; of all, that it does not */
function together(parts: Condition[], subject: Subject, decides: boolean): boolean {
  let settled = -Infinity
  let all = Infinity
  for (let i = 0; i < parts.length; i++) {
    const holds = judgePart(parts[i]!, subject)
    if (holds === decides && until > settled) settled = until
    if (until < all) all = until
  }
  until = settled > -Infinity ? settled : all
  return settled > -Infinity ? decides : !decides
}

function judgeActivity(test: ActivityTest, { moments, now }: Subject): boolean {
  const latest = moments(test).filter(at => test.days === null || at >= now - test.days * DAY)
  const counts = latest[test.times - 1]
  // Which acts count may change with the day: then somebody has to look again tomorrow.
  const which = test.where && some(test.where, t => 'attribute' in t && isOfDays(t)) ? tomorrow(now) : Infinity
  until = counts === undefined ? which : Math.min(which, test.days === null ? Infinity : counts + test.days * DAY + 1)
  return counts !== undefined
}
const isOfDays = ({ is }: Test) => is === 'within_days' || is === 'older_days'

function judgeTest(test: Test, { attribute, reaches, now }: Subject): boolean {
  const found = attribute(test.attribute)
  const holds = isTrue(test, found, now)
  if (isOfDays(test)) {
    until = dayChanges(valuesOf(found), test.value, now)
    return holds
  }
  let first = Infinity
  const bounds =
    test.is === 'at_least' ? numbersIn(test) : test.is === 'at_most' ? numbersIn(test).map(n => Math.floor(n) + 1) : around(found)
  for (const bound of bounds) {
    const at = reaches(test.attribute, bound)
    if (at !== undefined && at > now && at < first) first = at
  }
  until = first
  return holds
}

/** What a test compares with, where it is numbers. */
const numbersIn = ({ value }: Test): number[] => [value ?? []].flat().map(Number).filter(Number.isFinite)
/** The bounds of a whole number: beyond either it is another one. */
const NONE: number[] = []
const around = (found: unknown): number[] => (typeof found === 'number' ? [found, found + 1] : NONE)

/** When a day leaves the last so many days, or comes to be today. */
function dayChanges(values: unknown[], days: Test['value'], now: number): number {
  const turns = values.flatMap(value => {
    const day = /^\d{4}-\d\d-\d\d/.exec(String(value))?.[0]
    const start = day === undefined ? NaN : Date.parse(day)
    // A day that there is not, the 31st of February, compares as a text; look again tomorrow.
    if (day !== undefined && Number.isNaN(start)) return [tomorrow(now)]
    return Number.isNaN(start) ? [] : [start, start + (lengthOf(days) + 1) * DAY]
  })
  return Math.min(Infinity, ...turns.filter(at => at > now))
}
const lengthOf = (days: Test['value']) => Math.min(36_500, Math.max(0, Number(days) || 0))
const tomorrow = (now: number) => Date.parse(daysBefore(now, 0)) + DAY
