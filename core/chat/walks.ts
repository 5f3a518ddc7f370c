import type { Flow } from '#core/chat/shapes'
import { isLast, reachedFrom, stepsOf, waysOf, type Way } from '#core/chat/ways'

/** A made-up visitor's way through a flow: at which step, and which way out they took; `by` is null where all is over. */
export interface Walk {
  steps: { key: string; by: string | null }[]
}
export interface Walks {
  /** Together they take every way out of every step that can be reached. */
  all: Walk[]
  shortest: Walk | null
  longest: Walk | null
  /** Of many who choose each way alike, the one of middle length. */
  usual: Walk | null
}

const STROLLS = 201
const MOST_STEPS = 400

/**
 * Walks a flow until every step and every way was taken, each walk by the shortest way to what no other has taken.
 * @param random from 0 up to 1, for those who choose by chance
 */
export function walks(flow: Flow, random: () => number): Walks {
  const graph = graphOf(flow)
  if (flow.start === null || !graph.has(flow.start)) return { all: [], shortest: null, longest: null, usual: null }
  const { start } = flow
  const taken = new Set<string>()
  const all: Walk[] = []
  for (const key of reachedFrom(flow, start)) {
    const { ways } = graph.get(key)!
    for (const way of ways.length ? ways : [null]) {
      if (taken.has(`${key} ${way?.by ?? null}`)) continue
      const walk: Walk = {
        steps: [...pathTo(graph, start, key), { key, by: way?.by ?? null }, ...(way?.to ? toTheEnd(graph, way.to) : [])],
      }
      for (const s of walk.steps) taken.add(`${s.key} ${s.by}`)
      all.push(walk)
    }
  }
  const byLength = (a: Walk, b: Walk) => a.steps.length - b.steps.length
  const [sorted, strolls] = [[...all].sort(byLength), Array.from({ length: STROLLS }, () => stroll(graph, start, random)).sort(byLength)]
  return { all, shortest: sorted[0]!, longest: sorted.at(-1)!, usual: strolls[(STROLLS - 1) / 2]! }
}

/** The ways of each step that lead somewhere, or to rest; and whether all may be over there. */
type Graph = Map<string, { ways: Way[]; over: boolean }>
function graphOf(flow: Flow): Graph {
  const steps = stepsOf(flow)
  return new Map(
    flow.steps.map(step => [step.key, { ways: waysOf(step).filter(way => way.to === null || steps.has(way.to)), over: isLast(step) }]),
  )
}

/** From where each step is first reached, nearest first. */
function* nearestFirst(graph: Graph, from: string): Generator<[key: string, before: Map<string, { key: string; by: string } | null>]> {
  const before = new Map<string, { key: string; by: string } | null>([[from, null]])
  for (const key of before.keys()) {
    yield [key, before]
    for (const way of graph.get(key)!.ways) if (way.to !== null && !before.has(way.to)) before.set(way.to, { key, by: way.by })
  }
}

/** The shortest way from one step to the first that is wanted, without the latter; null when none is. */
function shortest(graph: Graph, from: string, wanted: (key: string) => boolean): { path: Walk['steps']; key: string } | null {
  for (const [key, before] of nearestFirst(graph, from)) {
    if (!wanted(key)) continue
    const path: Walk['steps'] = []
    for (let at = before.get(key); at; at = before.get(at.key)) path.unshift(at)
    return { path, key }
  }
  return null
}
const pathTo = (graph: Graph, from: string, to: string): Walk['steps'] => shortest(graph, from, key => key === to)?.path ?? []

/** The shortest way from a step to where all is over, or rests; in a circle that nobody leaves, as far as it is new. */
function toTheEnd(graph: Graph, from: string): Walk['steps'] {
  const resting = (key: string) => graph.get(key)!.ways.find(way => way.to === null)
  const end = shortest(graph, from, key => graph.get(key)!.over || resting(key) !== undefined)
  return end ? [...end.path, { key: end.key, by: resting(end.key)?.by ?? null }] : [{ key: from, by: null }]
}

function stroll(graph: Graph, start: string, random: () => number): Walk {
  const path: Walk['steps'] = []
  let at: string | null = start
  while (at !== null && path.length < MOST_STEPS) {
    const ways: Way[] = graph.get(at)!.ways
    const way: Way | undefined = ways[Math.floor(random() * ways.length)]
    path.push({ key: at, by: way?.by ?? null })
    at = way?.to ?? null
  }
  return { steps: path }
}
