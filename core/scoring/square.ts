/** The square of fit and interest: where leads stand on it, who is near a place, and who is within a part of it. */

/** What the square shows of each axis; whoever is beyond stands at its edge. */
export const LEAST = -10
export const MOST = 110

/** Leads by columns: the same place in each is one lead. `label` is a place in the list of labels, -1 for none. */
export interface Spots {
  ids: string[]
  fit: number[]
  interest: number[]
  label: number[]
}

const EDGE = 10
const share = (n: number) => Math.min(1, Math.max(0, (n - LEAST) / (MOST - LEAST)))

/** Where points lie on a drawing of so many pixels, and back: interest runs right, fit runs up. */
export const layoutOf = (width: number, height: number) => ({
  x: (interest: number) => EDGE + share(interest) * (width - 2 * EDGE),
  y: (fit: number) => height - EDGE - share(fit) * (height - 2 * EDGE),
  interestAt: (x: number) => 0 + Math.round(LEAST + Math.min(1, Math.max(0, (x - EDGE) / (width - 2 * EDGE))) * (MOST - LEAST)),
  fitAt: (y: number) => 0 + Math.round(LEAST + Math.min(1, Math.max(0, (height - EDGE - y) / (height - 2 * EDGE))) * (MOST - LEAST)),
})
export type Layout = ReturnType<typeof layoutOf>

/** Places in pixels, in cells, so that who is near is found without looking at all. */
export function cellsOf(xs: ArrayLike<number>, ys: ArrayLike<number>, size = 16) {
  const cells = new Map<number, number[]>()
  const key = (cx: number, cy: number) => cx * 100_003 + cy
  for (let i = 0; i < xs.length; i++) {
    const at = key(Math.floor(xs[i]! / size), Math.floor(ys[i]! / size))
    const cell = cells.get(at)
    if (cell) cell.push(i)
    else cells.set(at, [i])
  }
  return {
    /** Who is nearest to a place and no farther than `most` pixels; -1 for nobody. */
    nearest(x: number, y: number, most: number): number {
      let [best, found] = [most * most, -1]
      const [fromX, toX] = [Math.floor((x - most) / size), Math.floor((x + most) / size)]
      const [fromY, toY] = [Math.floor((y - most) / size), Math.floor((y + most) / size)]
      for (let cx = fromX; cx <= toX; cx++)
        for (let cy = fromY; cy <= toY; cy++)
          for (const i of cells.get(key(cx, cy)) ?? []) {
            const d = (xs[i]! - x) ** 2 + (ys[i]! - y) ** 2
            if (d < best || (d === best && found < 0)) [best, found] = [d, i]
          }
      return found
    },
  }
}

export type Direction = 'left' | 'right' | 'up' | 'down'
/** Who stands within so many pixels of each other stands in one column, for whoever goes by arrow keys. */
const COLUMN = 24

/**
 * Who comes next from one in a direction: up and down through everybody in their column, one after the other; to the left and right
 * whoever is nearest in height in the next column where somebody is. So everybody can be reached.
 * @returns -1 when nobody is there
 */
export function nextTowards(xs: ArrayLike<number>, ys: ArrayLike<number>, from: number, direction: Direction): number {
  const column = (i: number) => Math.floor(xs[i]! / COLUMN)
  /** How far another is in this direction, the lesser the nearer, in turn by each; null: not there. */
  const away = (i: number): [number, number] | null => {
    const across = column(i) - column(from)
    if (direction === 'left' || direction === 'right') {
      const ahead = direction === 'left' ? -across : across
      return ahead > 0 ? [ahead, Math.abs(ys[i]! - ys[from]!)] : null
    }
    const [below, behind] = [ys[i]! - ys[from]!, i - from]
    const [down, later] = direction === 'up' ? [-below, -behind] : [below, behind]
    return across === 0 && (down > 0 || (down === 0 && later > 0)) ? [down, later] : null
  }
  let [best, found] = [[Infinity, Infinity], -1]
  for (let i = 0; i < xs.length; i++) {
    const d = away(i)
    if (d && (d[0] < best[0]! || (d[0] === best[0] && d[1] < best[1]!))) [best, found] = [d, i]
  }
  return found
}

/** A part of the square; null: as far as leads go. */
export interface Part {
  fit: [number | null, number | null]
  interest: [number | null, number | null]
}

/** The part between two places, in points. At the edge it goes as far as leads do. */
export function partOf(a: { fit: number; interest: number }, b: { fit: number; interest: number }): Part {
  const between = (x: number, y: number): [number | null, number | null] => {
    const [low, high] = [Math.min(x, y), Math.max(x, y)]
    return [low <= LEAST ? null : low, high >= MOST ? null : high]
  }
  return { fit: between(a.fit, b.fit), interest: between(a.interest, b.interest) }
}

const inside = (n: number, [low, high]: [number | null, number | null]) => (low === null || n >= low) && (high === null || n <= high)

/** The places of those within a part, in their order. */
export function within({ fit, interest }: Pick<Spots, 'fit' | 'interest'>, part: Part): number[] {
  const found: number[] = []
  for (let i = 0; i < fit.length; i++) if (inside(fit[i]!, part.fit) && inside(interest[i]!, part.interest)) found.push(i)
  return found
}
