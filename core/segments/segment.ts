import { mapTests, some, type Condition, type DeedTest, type Test } from '#core/conditions'

/** A group of leads that a condition describes. */
export interface Segment { id: string; name: string; condition: Condition }

const NOBODY: Condition = { any: [] }

/**
 * A condition with every segment that it names written out, so that it can be judged without them.
 * A segment that is gone, or that comes back to itself, has nobody in it.
 */
export function writtenOut(condition: Condition, segments: Map<string, Condition>, within: ReadonlySet<string> = new Set()): Condition {
  const segment = (id: unknown): Condition => {
    const own = segments.get(String(id))
    return !own || within.has(String(id)) ? NOBODY : writtenOut(own, segments, new Set([...within, String(id)]))
  }
  return mapTests(condition, (test) => {
    if ('did' in test || test.fact !== 'segment') return test
    const ids = test.is === 'filled' || test.is === 'empty' ? [...segments.keys()] : [test.value ?? []].flat()
    const inAny: Condition = ids.length === 1 ? segment(ids[0]) : { any: ids.map(segment) }
    return test.is === 'not_equal' || test.is === 'empty' ? { none: [inAny] } : inAny
  })
}

/** The segments that a condition names. */
export function segmentsIn(condition: Condition): string[] {
  const named: string[] = []
  some(condition, (test) => {
    if (isSegmentTest(test)) named.push(...[test.value ?? []].flat().map(String))
    return false
  })
  return [...new Set(named)]
}
const isSegmentTest = (test: Test | DeedTest): test is Test => 'fact' in test && test.fact === 'segment'

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
