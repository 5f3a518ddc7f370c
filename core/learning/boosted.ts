import type { Table } from '#core/learning/table'

/**
 * Boosted trees of three questions, several sets of them on rows drawn by lot (J. Friedman, 2001; L. Breiman, 1996). Nobody is scored
 * by them: they say smoothly what few rules then have to say.
 */
interface Split {
  column: number
  bin: number
  equal: boolean
}
interface Tree {
  root: Split
  sides: (Split | null)[]
  leaves: Float64Array
}
interface Binned {
  count: number
  bins: Uint8Array
  edges: Float64Array | null
  names: Map<string, number> | null
}
export interface Boosted {
  trees: Tree[]
  base: number
  sets: number
  binned: Binned[]
}

const MOST_BINS = 32
const RATE = 0.1
const SMOOTH = 4
const LEAF = 12
const MOST_DRAWN = 6000

function binsOf(table: Table): Binned[] {
  return table.columns.map(column => {
    const bins = new Uint8Array(table.rows)
    if (column.kind === 'choice') {
      const counts = new Map<number, number>()
      for (const codes of column.codes) if (codes.length) counts.set(codes[0]!, (counts.get(codes[0]!) ?? 0) + 1)
      const kept = [...counts]
        .sort((a, b) => b[1] - a[1] || a[0] - b[0])
        .slice(0, MOST_BINS - 2)
        .map(([code]) => code)
      const place = new Map(kept.map((code, i) => [code, i + 2]))
      column.codes.forEach((codes, i) => {
        bins[i] = codes.length ? (place.get(codes[0]!) ?? 1) : 0
      })
      return { count: kept.length + 2, bins, edges: null, names: new Map(kept.map((code, i) => [column.names[code]!, i + 2])) }
    }
    const sorted = column.values.filter(v => !Number.isNaN(v)).sort()
    const distinct = [...new Set(sorted)]
    const edges = Float64Array.from(
      distinct.length < MOST_BINS
        ? distinct.slice(1)
        : new Set(Array.from({ length: MOST_BINS - 2 }, (_, k) => sorted[Math.floor(((k + 1) * sorted.length) / (MOST_BINS - 1))]!)),
    )
    column.values.forEach((v, i) => {
      bins[i] = binIn(edges, v)
    })
    return { count: edges.length + 2, bins, edges, names: null }
  })
}
/** 0: nothing stands there. */
function binIn(edges: Float64Array, v: number): number {
  if (Number.isNaN(v)) return 0
  let bin = 1
  while (bin <= edges.length && v >= edges[bin - 1]!) bin++
  return bin
}

/** The best question for some rows, by the gain of second order. */
function bestSplit(
  binned: Binned[],
  columns: number[],
  rows: Int32Array,
  slope: Float64Array,
  curve: Float64Array,
): (Split & { gain: number }) | null {
  let [allG, allH] = [0, 0]
  for (const i of rows) {
    allG += slope[i]!
    allH += curve[i]!
  }
  const whole = (allG * allG) / (allH + SMOOTH)
  let best: (Split & { gain: number }) | null = null
  const [g, h, n] = [new Float64Array(MOST_BINS + 2), new Float64Array(MOST_BINS + 2), new Int32Array(MOST_BINS + 2)]
  for (const c of columns) {
    const { count, bins, edges } = binned[c]!
    g.fill(0, 0, count)
    h.fill(0, 0, count)
    n.fill(0, 0, count)
    for (let k = 0; k < rows.length; k++) {
      const i = rows[k]!
      const b = bins[i]!
      g[b]! += slope[i]!
      h[b]! += curve[i]!
      n[b]!++
    }
    const consider = (bin: number, equal: boolean, sg: number, sh: number, sn: number) => {
      if (sn < LEAF || rows.length - sn < LEAF) return
      const gain = (sg * sg) / (sh + SMOOTH) + (allG - sg) ** 2 / (allH - sh + SMOOTH) - whole
      if (gain > (best?.gain ?? 1e-6)) best = { column: c, bin, equal, gain }
    }
    if (edges) {
      let [sg, sh, sn] = [0, 0, 0]
      for (let b = count - 1; b > 0; b--) {
        sg += g[b]!
        sh += h[b]!
        sn += n[b]!
        consider(b, false, sg, sh, sn)
      }
    }
    if (!edges || count <= 12) for (let b = 0; b < count; b++) consider(b, true, g[b]!, h[b]!, n[b]!)
  }
  return best
}
/** Whether a question is answered with yes, of the row at a place. */
function asker(binned: Binned[], { column, bin, equal }: Split): (i: number) => boolean {
  const { bins } = binned[column]!
  return equal ? i => bins[i] === bin : i => bins[i]! >= bin
}

/** @param outcomes 0 or 1; @param dice from 0 up to 1; @param sets how often rows are drawn */
export function boost(table: Table, outcomes: ArrayLike<number>, dice: () => number, sets: number, rounds: number): Boosted {
  const binned = binsOf(table)
  const n = table.rows
  const positives = Array.from(outcomes).reduce((a, b) => a + b, 0)
  const base = Math.log((positives + 0.5) / (n - positives + 0.5))
  const trees: Tree[] = []
  // Of many rows some thousands tell a tree enough.
  const drawn = Math.min(0.6, MOST_DRAWN / n)
  const [score, slope, curve, leaf] = [new Float64Array(n), new Float64Array(n), new Float64Array(n), new Uint8Array(n)]
  for (let s = 0; s < sets; s++) {
    score.fill(base)
    for (let r = 0; r < rounds; r++) {
      const rows: number[] = []
      for (let i = 0; i < n; i++) {
        if (dice() >= drawn) continue
        const p = 1 / (1 + Math.exp(-score[i]!))
        slope[i] = outcomes[i]! - p
        curve[i] = p * (1 - p)
        rows.push(i)
      }
      const columns = table.columns.map((_, c) => c).filter(() => dice() < 0.5)
      const root = bestSplit(binned, columns, Int32Array.from(rows), slope, curve)
      if (!root) continue
      const isIn = asker(binned, root)
      const halves = [rows.filter(isIn), rows.filter(i => !isIn(i))]
      const sides = halves.map(half => bestSplit(binned, columns, Int32Array.from(half), slope, curve))
      const tree: Tree = { root, sides, leaves: new Float64Array(4) }
      leavesOf(binned, tree, n, leaf)
      const [g, h] = [new Float64Array(4), new Float64Array(4)]
      for (const i of rows) {
        g[leaf[i]!]! += slope[i]!
        h[leaf[i]!]! += curve[i]!
      }
      for (let k = 0; k < 4; k++) tree.leaves[k] = (RATE * g[k]!) / (h[k]! + SMOOTH)
      for (let i = 0; i < n; i++) score[i]! += tree.leaves[leaf[i]!]!
      trees.push(tree)
    }
  }
  return { trees, base, sets, binned }
}

/** In which leaf of a tree each row ends. */
function leavesOf(binned: Binned[], { root, sides }: Tree, n: number, leaf: Uint8Array): void {
  const first = asker(binned, root)
  const [yes, no] = sides.map(side => (side ? asker(binned, side) : null))
  for (let i = 0; i < n; i++) leaf[i] = first(i) ? (yes?.(i) ? 1 : 0) : no?.(i) ? 3 : 2
}

/** What the trees say of the rows that they were made of, as log odds. */
export function boostedSays({ trees, base, sets, binned }: Boosted, rows: number): Float64Array {
  const said = new Float64Array(rows)
  const leaf = new Uint8Array(rows)
  for (const tree of trees) {
    leavesOf(binned, tree, rows, leaf)
    for (let i = 0; i < rows; i++) said[i]! += tree.leaves[leaf[i]!]!
  }
  return said.map(v => base + v / sets)
}
