/** Dice from a fixed seed: the same history each time. (mulberry32, T. Ettinger, public domain) */
export function createDice(seed: number) {
  let state = seed >>> 0
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  return {
    /** From 0 up to, not including, 1. */
    next,
    chance: (p: number) => next() < p,
    /** A whole number from `least` to `most`. */
    between: (least: number, most: number) => least + Math.floor(next() * (most - least + 1)),
    pick: <T>(items: readonly T[]): T => items[Math.floor(next() * items.length)]!,
    /** One of several by weight. */
    weighed<T>(items: readonly (readonly [T, number])[]): T {
      let left = next() * items.reduce((n, [, w]) => n + w, 0)
      for (const [item, weight] of items) if ((left -= weight) < 0) return item
      return items.at(-1)![0]
    },
    /** Log-normal around a median; `spread` is the standard deviation of the logarithm. */
    around(median: number, spread: number) {
      const normal = Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next())
      return median * Math.exp(spread * normal)
    },
    uuid: () => '00000000-0000-4000-8000-000000000000'.replace(/0/g, () => Math.floor(next() * 16).toString(16)),
  }
}
export type Dice = ReturnType<typeof createDice>
