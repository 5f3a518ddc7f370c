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
  if ('all' in condition) return together(condition.all, subject, false)
  if ('any' in condition) return together(condition.any, subject, true)
  if ('none' in condition) {
    const { holds, until } = together(condition.none, subject, true)
    return { holds: !holds, until }
  }
  return 'did' in condition ? judgeActivity(condition, subject) : judgeTest(condition, subject)
}

/** @param decides what one part alone settles: of any, that it holds; of all, that it does not */
function together(parts: Condition[], subject: Subject, decides: boolean): Judged {
  let settled = -Infinity
  let all = Infinity
  for (const part of parts) {
    const { holds, until } = judge(part, subject)
    if (holds === decides) settled = Math.max(settled, until)
    all = Math.min(all, until)
  }
  return settled > -Infinity ? { holds: decides, until: settled } : { holds: !decides, until: all }
}

function judgeActivity(test: ActivityTest, { moments, now }: Subject): Judged {
  const latest = moments(test).filter(at => test.days === null || at >= now - test.days * DAY)
  const counts = latest[test.times - 1]
  // Which acts count may change with the day: then somebody has to look again tomorrow.
  const which = test.where && some(test.where, t => 'attribute' in t && isOfDays(t)) ? tomorrow(now) : Infinity
  if (counts === undefined) return { holds: false, until: which }
  return { holds: true, until: Math.min(which, test.days === null ? Infinity : counts + test.days * DAY + 1) }
}
const isOfDays = ({ is }: Test) => is === 'within_days' || is === 'older_days'

function judgeTest(test: Test, { attribute, reaches, now }: Subject): Judged {
  const found = attribute(test.attribute)
  const holds = isTrue(test, found, now)
  if (isOfDays(test)) return { holds, until: dayChanges(valuesOf(found), test.value, now) }
  const bounds = test.is === 'at_least' ? numbersIn(test) : test.is === 'at_most' ? numbersIn(test).map(n => Math.floor(n) + 1) : around(found)
  const turns = bounds.map(bound => reaches(test.attribute, bound) ?? Infinity)
  return { holds, until: Math.min(Infinity, ...turns.filter(at => at > now)) }
}

/** What a test compares with, where it is numbers. */
const numbersIn = ({ value }: Test): number[] => [value ?? []].flat().map(Number).filter(Number.isFinite)
/** The bounds of a whole number: beyond either it is another one. */
const around = (found: unknown): number[] => typeof found === 'number' ? [found, found + 1] : []

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
