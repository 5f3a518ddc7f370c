/** One of several rates that are compared: how many of them did it. */
export interface Arm {
  hits: number
  trials: number
}
/** What is known of a rate beside its rivals. `loss`: by how much, on average, keeping it falls short of the best, as a rate. */
export interface Rival {
  mean: number
  low: number
  high: number
  best: number
  loss: number
}

/** Before anybody came, each rate from 0 to 1 is held equally likely: Beta(1, 1). */
export const PRIOR = { a: 1, b: 1 } as const

const POINTS = 6000
const WIDE = 9

/**
 * Compares rates: the probability that each is the best, and what keeping it would cost on average. Each rate has a Beta
 * posterior; with densities f and distributions F, the probability is ∫ f_i Π_{j≠i} F_j, the mean of the best ∫ 1 − Π F_j
 * over 0 to 1, and the loss its distance from the own mean. Worked out on a grid, the same at each call.
 */
export function rivals(arms: Arm[], prior: { a: number; b: number } = PRIOR): Rival[] {
  const shapes = arms.map(({ hits, trials }) => ({ a: prior.a + hits, b: prior.b + Math.max(0, trials - hits) }))
  const means = shapes.map(({ a, b }) => a / (a + b))
  const deviations = shapes.map(({ a, b }) => Math.sqrt((a * b) / ((a + b) ** 2 * (a + b + 1))))
  const from = Math.max(0, Math.min(...means.map((m, i) => m - WIDE * deviations[i]!)))
  const until = Math.min(1, Math.max(...means.map((m, i) => m + WIDE * deviations[i]!)))
  const step = (until - from) / POINTS
  const curves = shapes.map(shape => curve(shape, from, step))
  const below = (i: number, n: number) => curves[i]!.cumulated[n]!
  const best = arms.map(() => 0)
  let meanOfBest = from
  for (let n = 0; n < POINTS; n++) {
    const product = arms.reduce((p, _, i) => p * below(i, n), 1)
    meanOfBest += (1 - product) * step
    for (const i of arms.keys()) best[i]! += curves[i]!.mass[n]! * arms.reduce((p, _, j) => (j === i ? p : p * below(j, n)), 1)
  }
  const whole = best.reduce((n, b) => n + b, 0) || 1
  return arms.map((_, i) => ({
    mean: means[i]!,
    low: quantile(i, 0.025),
    high: quantile(i, 0.975),
    best: best[i]! / whole,
    loss: Math.max(0, meanOfBest - means[i]!),
  }))

  function quantile(i: number, share: number): number {
    const n = curves[i]!.cumulated.findIndex(c => c >= share)
    return from + (n < 0 ? POINTS : n + 0.5) * step
  }
}

/** A Beta density over the cells of a grid: the mass of each, and all up to its middle. */
function curve({ a, b }: { a: number; b: number }, from: number, step: number): { mass: Float64Array; cumulated: Float64Array } {
  const logs = Float64Array.from({ length: POINTS }, (_, n) => {
    const x = from + (n + 0.5) * step
    return (a - 1) * Math.log(x) + (b - 1) * Math.log1p(-x)
  })
  const top = logs.reduce((m, l) => Math.max(m, l), -Infinity)
  const mass = logs.map(l => Math.exp(l - top))
  const sum = mass.reduce((n, m) => n + m, 0)
  const cumulated = new Float64Array(POINTS)
  let before = 0
  for (let n = 0; n < POINTS; n++) {
    mass[n]! /= sum
    cumulated[n] = before + mass[n]! / 2
    before += mass[n]!
  }
  return { mass, cumulated }
}
