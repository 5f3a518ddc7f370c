import { attributesIn, type Condition } from '#core/conditions/condition'

/** What conditions may name that can be taken away. */
export interface Surroundings {
  /** Properties that are in use, by key. */
  properties: ReadonlySet<string>
  segments: ReadonlySet<string>
  lists: ReadonlySet<string>
}

/** The ids that a condition compares an attribute with. */
function valuesOf(condition: Condition, attribute: string): string[] {
  if ('all' in condition) return condition.all.flatMap(c => valuesOf(c, attribute))
  if ('any' in condition) return condition.any.flatMap(c => valuesOf(c, attribute))
  if ('none' in condition) return condition.none.flatMap(c => valuesOf(c, attribute))
  if ('did' in condition) return []
  return condition.attribute === attribute ? [condition.value ?? []].flat().map(String) : []
}

/** What a condition asks for that there is no more, in words; null when all is there. */
export function goneIn(condition: Condition, around: Surroundings): string | null {
  const property = attributesIn(condition).find(a => a.startsWith('property.') && !around.properties.has(a.slice(9)))
  if (property) return 'a property that was removed'
  if (valuesOf(condition, 'segment').some(id => !around.segments.has(id))) return 'a segment that was removed'
  return valuesOf(condition, 'list').some(id => !around.lists.has(id)) ? 'a list that was removed' : null
}

/** Whether a condition can hold for nobody, whatever is known: an empty choice, or two values at once. */
export function holdsNever(condition: Condition): boolean {
  if ('any' in condition) return condition.any.every(holdsNever)
  if (!('all' in condition)) return false
  if (condition.all.some(holdsNever)) return true
  const needs = new Map<string, Set<string>>()
  for (const c of condition.all) {
    if (!('attribute' in c) || (c.is !== 'equal' && c.is !== 'one_of') || /^(property|tag|list|segment)/.test(c.attribute)) continue
    const values = new Set([c.value ?? []].flat().map(String))
    const before = needs.get(c.attribute)
    const both = before ? new Set([...before].filter(v => values.has(v))) : values
    if (!both.size) return true
    needs.set(c.attribute, both)
  }
  return condition.all.some(c => bounds(c) && condition.all.some(o => excludes(c, o)))
}
/** A number that is to be at least or at most something. */
const bounds = (c: Condition) => 'attribute' in c && (c.is === 'at_least' || c.is === 'at_most') && Number.isFinite(Number(c.value))
const excludes = (a: Condition, b: Condition): boolean =>
  'attribute' in a &&
  'attribute' in b &&
  a.attribute === b.attribute &&
  a.is === 'at_least' &&
  b.is === 'at_most' &&
  Number(a.value) > Number(b.value)
