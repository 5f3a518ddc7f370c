/** What is known of one who was answered, and whose end is known. */
export interface AnsweredEnd {
  label: string | null
  /** Working time from when they began to wait until the first answer, as a share of what was promised: 1 is just in time. */
  promises: number
  won: boolean
}

/** What waiting costs: the chance of a win by label, which halves with each `halfAfter` promises that pass without an answer. */
export interface WaitingCost {
  /** In promises: 4 says that a lead is half as likely to be won that waits four times as long as promised. */
  halfAfter: number
  /** From this house's own ends; otherwise what is taken until there are enough of them. */
  learned: boolean
  /** Ends that could tell, and how many of them were won. */
  ends: number
  won: number
  /** The chance of a win, for who is answered at once. */
  chances: { label: string; chance: number; ends: number }[]
}

/** Until the house's own ends can tell. */
export const DEFAULT_HALF = 4
/** From the lowest label to the highest, where nothing is known of them. */
const LOWEST = 0.05
const HIGHEST = 0.4
/** As many ends as a label's default counts for. */
const PRIOR_ENDS = 10
/** So many ends, so many of them won and so many lost, are the least that say how a chance fades. */
export const ENOUGH = { ends: 60, each: 15 }
const GRID = Array.from({ length: 33 }, (_, n) => 2 ** (-2 + n / 4))

const defaultChance = (rank: number, labels: number) => (labels < 2 ? LOWEST : LOWEST + ((HIGHEST - LOWEST) * rank) / (labels - 1))

/**
 * Learns from ends what waiting costs: P(won) = chance of the label · 2^(−promises / h). The chances are the shares won, weighted by
 * how much of the chance was left, drawn towards a default worth ten ends; h is the most probable of a grid from a quarter to 64, with log2 h
 * normal around log2 4 with a spread of 1 before anything is seen (maximum a posteriori).
 * @param labels keys from the lowest to the highest
 */
export function learnWaitingCost(all: readonly AnsweredEnd[], labels: readonly string[]): WaitingCost {
  const known = new Set(labels)
  const ends = all.filter(
    (e): e is AnsweredEnd & { label: string } => e.label !== null && known.has(e.label) && Number.isFinite(e.promises) && e.promises >= 0,
  )
  const won = ends.filter(e => e.won).length
  const learned = ends.length >= ENOUGH.ends && won >= ENOUGH.each && ends.length - won >= ENOUGH.each
  const halfAfter = learned ? mostProbable(ends, labels) : DEFAULT_HALF
  return { halfAfter, learned, ends: ends.length, won, chances: chancesAt(ends, labels, halfAfter) }
}

function chancesAt(ends: readonly (AnsweredEnd & { label: string })[], labels: readonly string[], half: number): WaitingCost['chances'] {
  return labels.map((label, rank) => {
    const own = ends.filter(e => e.label === label)
    const exposed = own.reduce((sum, e) => sum + 2 ** (-e.promises / half), 0)
    const chance = (own.filter(e => e.won).length + PRIOR_ENDS * defaultChance(rank, labels.length)) / (exposed + PRIOR_ENDS)
    return { label, chance: Math.min(0.95, chance), ends: own.length }
  })
}

function mostProbable(ends: readonly (AnsweredEnd & { label: string })[], labels: readonly string[]): number {
  let best = { half: DEFAULT_HALF, belief: -Infinity }
  for (const half of GRID) {
    const chance = new Map(chancesAt(ends, labels, half).map(c => [c.label, c.chance]))
    let belief = -(Math.log2(half / DEFAULT_HALF) ** 2) / 2
    for (const e of ends) {
      const p = Math.max(1e-9, chance.get(e.label)! * 2 ** (-e.promises / half))
      belief += Math.log(e.won ? p : 1 - p)
    }
    if (belief > best.belief) best = { half, belief }
  }
  return best.half
}

/** Who has no label is worth half of the lowest. */
const chanceOf = ({ chances }: WaitingCost, label: string | null) =>
  chances.find(c => c.label === label)?.chance ?? (chances[0]?.chance ?? LOWEST) / 2

/** The working time for which a loss is said: one hour. */
export const ONE_HOUR = 60

/**
 * How much of a win is lost, on average, if somebody waits an hour of working time longer.
 * @param waited working minutes that they have waited
 * @param target working minutes that were promised
 * @returns between 0 and 1: 0.01 is one win in a hundred such people
 */
export function lostInAnHour(cost: WaitingCost, label: string | null, waited: number, target: number): number {
  const left = (minutes: number) => 2 ** (-Math.max(0, minutes) / target / cost.halfAfter)
  return chanceOf(cost, label) * (left(waited) - left(waited + ONE_HOUR))
}
