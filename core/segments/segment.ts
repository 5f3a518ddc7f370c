import { mapTests, sizeOf, some, type Condition, type ActivityTest, type Test } from '#core/conditions/condition'

/** A group of leads that a condition describes. */
export interface Segment {
  id: string
  name: string
  condition: Condition
}

const NOBODY: Condition = { any: [] }

/** Tests that a condition may have once its segments are written out: each is asked for each lead. */
export const MOST_EXPANDED = 600

/**
 * A condition with every segment that it names written out, so that it can be judged without them.
 * A segment that is gone, or that comes back to itself, has nobody in it; so has a condition that would become too large,
 * which is refused where it is made (`expandedSize`).
 */
export function expanded(condition: Condition, segments: Map<string, Condition>): Condition {
  return expandedSize(condition, segments) > MOST_EXPANDED ? NOBODY : write(condition, segments, new Set())
}

function write(condition: Condition, segments: Map<string, Condition>, within: ReadonlySet<string>): Condition {
  const segment = (id: string): Condition => {
    const own = segments.get(id)
    return !own || within.has(id) ? NOBODY : write(own, segments, new Set([...within, id]))
  }
  return mapTests(condition, test => {
    if (!isSegmentTest(test)) return test
    const ids = namedBy(test, segments)
    const inAny: Condition = ids.length === 1 ? segment(ids[0]!) : { any: ids.map(segment) }
    return test.is === 'not_equal' || test.is === 'empty' ? { none: [inAny] } : inAny
  })
}

const namedBy = (test: Test, segments: Map<string, Condition>): string[] =>
  test.is === 'filled' || test.is === 'empty' ? [...segments.keys()] : [test.value ?? []].flat().map(String)

/** How many tests a condition would have with its segments written out; worked out without writing, each segment once. */
export function expandedSize(condition: Condition, segments: Map<string, Condition>): number {
  const sizes = new Map<string, number>()
  const of = (c: Condition): number => {
    let sum = sizeOf(c)
    some(c, test => {
      if (isSegmentTest(test)) for (const id of namedBy(test, segments)) sum += ofSegment(id)
      return false
    })
    return sum
  }
  function ofSegment(id: string): number {
    const known = sizes.get(id)
    if (known !== undefined) return known
    // Who comes back to it finds nobody in it.
    sizes.set(id, 1)
    const own = segments.get(id)
    const size = own ? of(own) : 1
    sizes.set(id, size)
    return size
  }
  return of(condition)
}

/** The segments that a condition names. */
export function segmentsIn(condition: Condition): string[] {
  const named: string[] = []
  some(condition, test => {
    if (isSegmentTest(test)) named.push(...[test.value ?? []].flat().map(String))
    return false
  })
  return [...new Set(named)]
}
const isSegmentTest = (test: Test | ActivityTest): test is Test => 'attribute' in test && test.attribute === 'segment'

/** Whether a segment would come back to itself with this condition: by its own name, or by those it names. */
export function circles(id: string, condition: Condition, segments: Map<string, Condition>): boolean {
  const seen = new Set<string>()
  const waiting = segmentsIn(condition)
  for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
    if (next === id) return true
    if (seen.has(next)) continue
    seen.add(next)
    const own = segments.get(next)
    if (own) waiting.push(...segmentsIn(own))
  }
  return false
}
