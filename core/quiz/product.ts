import { SumsTable } from '#core/quiz/sums-table'

/** One way to answer a question: what it adds to each outcome, and how likely it is. */
export interface Way {
  adds: readonly number[]
  p: number
}
/** What was added before, and how likely that is. */
export interface Start {
  sums: readonly number[]
  mass: number
}

/** How likely each outcome is, and of that how much by a tie, which the order of the outcomes decides. */
export interface Won {
  won: number[]
  tied: number[]
  /** Whether some way leads there at all, however unlikely it is. */
  reached: boolean[]
}
export const nothingWon = (n: number): Won => ({
  won: Array<number>(n).fill(0),
  tied: Array<number>(n).fill(0),
  reached: Array<boolean>(n).fill(false),
})

/**
 * What can still come of each pair of outcomes from each question on.
 * @returns by question (and behind the last), at `j * n + i`: by how much `j` can gain on `i` at most
 */
export function gains(questions: Way[][], n: number): Float64Array[] {
  const from = [new Float64Array(n * n)]
  for (let k = questions.length - 1; k >= 0; k--) {
    const later = from[0]!
    const here = new Float64Array(n * n)
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++) {
        let most = -Infinity
        for (const { adds } of questions[k]!) most = Math.max(most, adds[j]! - adds[i]!)
        here[j * n + i] = later[j * n + i]! + most
      }
    from.unshift(here)
  }
  return from
}

/** Questions that set outcomes apart most come first: then much is decided early. */
export const bySpread = (questions: Way[][]): Way[][] => {
  const spread = (ways: Way[]) => {
    const n = ways[0]?.adds.length ?? 0
    let sum = 0
    for (let i = 0; i < n; i++) {
      const mean = ways.reduce((s, w) => s + w.p * w.adds[i]!, 0)
      sum += ways.reduce((s, w) => s + w.p * (w.adds[i]! - mean) ** 2, 0)
    }
    return sum
  }
  return questions
    .map(ways => ({ ways, by: spread(ways) }))
    .sort((a, b) => b.by - a.by)
    .map(q => q.ways)
}

/** Ways of one question that add the same, as one. */
export function mergedWays(ways: Way[]): Way[] {
  const same = new Map<string, Way>()
  for (const { adds, p } of ways) {
    // What all outcomes get alike changes nothing.
    const least = Math.min(...adds)
    const apart = adds.map(a => a - least)
    const key = apart.join()
    const known = same.get(key)
    same.set(key, known ? { adds: known.adds, p: known.p + p } : { adds: apart, p })
  }
  return [...same.values()]
}

/** The greatest whole number below which all are told apart in a double. */
const MOST_KEY = 2 ** 53

/** Where sums are larger, pairs are not looked up. */
const MOST_LOOKED_UP = 4_000_000

/** The distribution of the difference of two outcomes over the questions from each one on, as sums from its least on. */
interface Apart {
  least: number
  /** How likely it is at most so much, and exactly so much. */
  below: Float64Array
  exactly: Float64Array
}

/**
 * How likely each outcome wins when questions are answered independently of each other. Exact but for the rounding of doubles.
 * States are the differences of the outcomes that can still win; ways that lead to the same are counted together, outcomes that
 * can no longer win are cut off, and where two are left the rest is looked up.
 * @param mostStates gives up beyond
 * @returns null when there are too many states, or sums are too large to be told apart
 */
export function wonByStates(starts: Start[], asked: Way[][], n: number, mostStates = 4_000_000): Won | null {
  const questions = bySpread(asked.map(mergedWays))
  const result = nothingWon(n)
  const most = gains(questions, n)
  const codes = packing(starts, questions, n)
  if (!codes) return null
  const { range, radix } = codes
  const closes = range * questions.length * n * n <= MOST_LOOKED_UP
  const apart = new Map<number, Apart[]>()
  const apartOf = (i: number, j: number) => {
    const known = apart.get(i * n + j)
    if (known) return known
    const made = differences(questions, i, j)
    apart.set(i * n + j, made)
    return made
  }
  const all = 2 ** n
  const one = radix.map(r => r * all)
  /** What a way adds to a state's number, by who is still in. */
  const steps = new Map<number, Float64Array[]>()
  const stepsOf = (mask: number): Float64Array[] => {
    const known = steps.get(mask)
    if (known) return known
    const base = lowest(mask)
    const made = questions.map(ways =>
      Float64Array.from(ways, ({ adds }) => {
        let sum = 0
        for (let j = base + 1; j < n; j++) if (mask & (1 << j)) sum += (adds[j]! - adds[base]!) * one[j]!
        return sum
      }),
    )
    steps.set(mask, made)
    return made
  }
  const encode = (sums: Float64Array, mask: number): number => {
    const base = lowest(mask)
    let key = mask
    for (let j = base + 1; j < n; j++) if (mask & (1 << j)) key += (sums[j]! - sums[base]! + range) * one[j]!
    return key
  }
  const width = 2 * range + 1
  const sums = new Float64Array(n)
  const decode = (key: number): number => {
    const mask = key % all
    let rest = (key - mask) / all
    const base = lowest(mask)
    sums[base] = 0
    for (let j = 1; j < n; j++) {
      const next = Math.floor(rest / width)
      if (mask & (1 << j) && j !== base) sums[j] = rest - next * width - range
      rest = next
    }
    return mask
  }
  let table = new SumsTable(starts.length)
  for (const start of starts) table.add(encode(Float64Array.from(start.sums), all - 1), start.mass)

  for (let k = 0; ; k++) {
    const bound = most[k]!
    const isLast = k >= questions.length - 1
    const ways = questions[k]
    const next = new SumsTable(isLast ? 1 : Math.min(table.size * 2, mostStates))
    let tooMany = false
    table.forEach((key, mass) => {
      if (tooMany) return
      const before = decode(key)
      const mask = stillIn(sums, before, bound, n)
      if ((mask & (mask - 1)) === 0) return credit(result, lowest(mask), mass, false)
      if (!ways) return finish(result, sums, mask, mass, n)
      const i = lowest(mask)
      const others = mask & ~(1 << i)
      if (closes && (others & (others - 1)) === 0) {
        const j = lowest(others)
        return closePair(result, i, j, sums[i]! - sums[j]!, mass, apartOf(i, j)[k]!)
      }
      if (isLast) {
        for (const { adds, p } of ways) finishAfter(result, sums, adds, mask, mass * p, n)
        return
      }
      const from = mask === before ? key : encode(sums, mask)
      const add = stepsOf(mask)[k]!
      for (let w = 0; w < add.length; w++) next.add(from + add[w]!, mass * ways[w]!.p)
      if (next.size > mostStates) tooMany = true
    })
    if (tooMany) return null
    if (isLast) return result
    table = next
  }
}

/** Who can still win, or tie with the one that is ahead now. Others might be shut out by others; they go a question later. */
function stillIn(sums: Float64Array, mask: number, bound: Float64Array, n: number): number {
  let top = -1
  for (let j = 0; j < n; j++) if (mask & (1 << j) && (top < 0 || sums[j]! > sums[top]!)) top = j
  let left = mask
  for (let j = 0; j < n; j++) if (j !== top && mask & (1 << j) && sums[j]! + bound[j * n + top]! < sums[top]!) left &= ~(1 << j)
  return left
}

const lowest = (mask: number): number => 31 - Math.clz32(mask & -mask)

function credit(result: Won, i: number, mass: number, isTie: boolean): void {
  result.won[i]! += mass
  if (isTie) result.tied[i]! += mass
  result.reached[i] = true
}

function finish(result: Won, sums: Float64Array, mask: number, mass: number, n: number): void {
  let best = -1
  let isTie = false
  for (let j = 0; j < n; j++) {
    if (!(mask & (1 << j))) continue
    if (best < 0 || sums[j]! > sums[best]!) {
      best = j
      isTie = false
    } else if (sums[j]! === sums[best]!) isTie = true
  }
  credit(result, best, mass, isTie)
}

function finishAfter(result: Won, sums: Float64Array, adds: readonly number[], mask: number, mass: number, n: number): void {
  let best = -1
  let top = -Infinity
  let isTie = false
  for (let j = 0; j < n; j++) {
    if (!(mask & (1 << j))) continue
    const sum = sums[j]! + adds[j]!
    if (sum > top) {
      best = j
      top = sum
      isTie = false
    } else if (sum === top) isTie = true
  }
  credit(result, best, mass, isTie)
}

/** The first of two is ahead by so much: it wins unless the other gains more, and ties go to it, for it stands first. */
function closePair(result: Won, i: number, j: number, ahead: number, mass: number, { least, below, exactly }: Apart): void {
  const at = ahead - least
  const atMost = at < 0 ? 0 : below[Math.min(at, below.length - 1)]!
  const tie = at >= 0 && at < exactly.length ? exactly[at]! : 0
  result.won[i]! += mass * atMost
  result.tied[i]! += mass * tie
  result.won[j]! += mass * (1 - atMost)
  // Both were in, so at least one way leads to either, or to a tie with it.
  if (at >= 0) result.reached[i] = true
  if (at < below.length - 1) result.reached[j] = true
}

/** How the second of two gains on the first, over the questions from each on. */
function differences(questions: Way[][], i: number, j: number): Apart[] {
  let exactly = new Float64Array([1])
  let least = 0
  const from: Apart[] = [summedUp(least, exactly)]
  for (let k = questions.length - 1; k >= 0; k--) {
    const gain = questions[k]!.map(({ adds, p }) => ({ by: adds[j]! - adds[i]!, p }))
    const low = Math.min(...gain.map(g => g.by))
    const high = Math.max(...gain.map(g => g.by))
    const wider = new Float64Array(exactly.length + high - low)
    for (const { by, p } of gain) for (let d = 0; d < exactly.length; d++) wider[d + by - low]! += exactly[d]! * p
    exactly = wider
    least += low
    from.unshift(summedUp(least, exactly))
  }
  return from
}
function summedUp(least: number, exactly: Float64Array): Apart {
  const below = new Float64Array(exactly.length)
  let sum = 0
  for (let d = 0; d < exactly.length; d++) below[d] = sum += exactly[d]!
  return { least, below, exactly }
}

/** How states become numbers: by how much one can be ahead of another on any part of a way; null when they would become too large. */
function packing(starts: Start[], questions: Way[][], n: number): { range: number; radix: number[] } | null {
  let range = 0
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      let gain = 0
      for (const ways of questions) gain += Math.max(0, ...ways.map(w => w.adds[j]! - w.adds[i]!))
      for (const { sums } of starts) range = Math.max(range, Math.abs(sums[j]! - sums[i]!) + gain)
    }
  const width = 2 * range + 1
  if (!Number.isSafeInteger(range) || 2 ** n * width ** (n - 1) >= MOST_KEY) return null
  return { range, radix: Array.from({ length: n }, (_, j) => (j === 0 ? 0 : width ** (j - 1))) }
}
