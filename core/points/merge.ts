type Json = unknown
type Keyed = { key?: string; value?: string }

/** Two changes of one thing brought together. `conflicts`: paths that both changed differently; there, mine stands. */
export interface Merged<T> {
  merged: T
  conflicts: string[]
}

/**
 * A three-way merge of plain values: what only one side changed is taken from it.
 * Lists whose items have a `key` or a `value` are merged item by item, others as
 * sets; an item that one side took out and the other changed stays.
 * @param base what both began with
 */
export function merge<T>(base: T, mine: T, theirs: T): Merged<T> {
  const conflicts: string[] = []
  const merged = mergeAt(base, mine, theirs, '', conflicts) as T
  return { merged, conflicts }
}

function mergeAt(base: Json, mine: Json, theirs: Json, path: string, conflicts: string[]): Json {
  if (same(mine, theirs) || same(base, theirs)) return mine
  if (same(base, mine)) return theirs
  if (Array.isArray(mine) && Array.isArray(theirs)) return mergeLists(Array.isArray(base) ? base : [], mine, theirs, path, conflicts)
  if (isObject(mine) && isObject(theirs) && isObject(base)) {
    const keys = [...new Set([...Object.keys(theirs), ...Object.keys(mine)])]
    return Object.fromEntries(keys.map(k => [k, mergeAt(base[k], mine[k], theirs[k], path ? `${path}.${k}` : k, conflicts)]))
  }
  conflicts.push(path)
  return mine
}

function mergeLists(base: Json[], mine: Json[], theirs: Json[], path: string, conflicts: string[]): Json[] {
  const [b, m, t] = [base, mine, theirs].map(list => new Map(list.map(item => [idOf(item), item])))
  // Whose order counts: mine where I moved something, else theirs.
  const common = (list: Json[]) => list.map(idOf).filter(id => b!.has(id) && m!.has(id) && t!.has(id))
  const moved = !same(common(mine), common(base))
  const [lead, follow] = moved ? [mine, theirs] : [theirs, mine]
  const order = lead.map(idOf)
  follow.forEach((item, i) => {
    const id = idOf(item)
    if (order.includes(id)) return
    // Behind what it stands behind on its own side.
    const before = follow
      .slice(0, i)
      .map(idOf)
      .findLast(other => order.includes(other))
    order.splice(before === undefined ? 0 : order.indexOf(before) + 1, 0, id)
  })
  return order.flatMap(id => {
    const [inBase, inMine, inTheirs] = [b!.has(id), m!.has(id), t!.has(id)]
    if (inMine && inTheirs)
      return [inBase || !isObject(m!.get(id)) ? mergeAt(b!.get(id), m!.get(id), t!.get(id), `${path}.${id}`, conflicts) : m!.get(id)]
    const kept = inMine ? m!.get(id) : t!.get(id)
    return !inBase || !same(kept, b!.get(id)) ? [kept] : []
  })
}

const isObject = (v: Json): v is Record<string, Json> => typeof v === 'object' && v !== null && !Array.isArray(v)
const idOf = (item: Json): string =>
  isObject(item) ? String((item as Keyed).key ?? (item as Keyed).value ?? JSON.stringify(item)) : JSON.stringify(item)

/** The place of the one difference between two plain values, `''` for the whole; null when there is none or more than one. */
export function onlyDifference(a: Json, b: Json, path = ''): string | null {
  if (same(a, b)) return null
  const both = Array.isArray(a) && Array.isArray(b) ? a.length === b.length : isObject(a) && isObject(b)
  if (!both) return path
  const [x, y] = [a as Record<string, Json>, b as Record<string, Json>]
  const differing = [...new Set([...Object.keys(x), ...Object.keys(y)])].filter(k => !same(x[k], y[k]))
  return differing.length === 1
    ? onlyDifference(x[differing[0]!], y[differing[0]!], path ? `${path}.${differing[0]}` : differing[0]!)
    : null
}

/** Whether two plain values are the same, whatever the order of their fields. */
export function same(a: Json, b: Json): boolean {
  if (a === b) return true
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((x, i) => same(x, b[i]))
  if (!isObject(a) || !isObject(b)) return false
  const keys = Object.keys(a)
  return keys.length === Object.keys(b).length && keys.every(k => same(a[k], b[k]))
}
