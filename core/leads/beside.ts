import type { ActivityTest } from '#core/conditions/condition'

/** A visit as far as conditions ask for it. `at` in milliseconds since 1970. */
export interface Visited {
  at: number
  source: string
}

/** What is known of a lead beside the lead, as far as it was loaded. Times in milliseconds since 1970. */
export interface Beside {
  /** The lists that it is on, by their ids. */
  lists?: string[]
  lastEntryAt?: number | null
  visits?: { first: Visited | null; latest: Visited | null; lastAt: number | null }
  /** When they did what tests ask for (`testKey`), the latest first, as many as a test asks for. */
  moments: Map<string, number[]>
}

/** Something was asked for that was not loaded: a fault of ours, and never an answer. */
export class NotLoaded extends Error {
  override name = 'NotLoaded'
  constructor(what: string) {
    super(`“${what}” was asked for and not loaded.`)
  }
}

/** Puts visits together: the first of the first, the latest of the latest. */
export function withVisits(a: NonNullable<Beside['visits']>, b: NonNullable<Beside['visits']>): NonNullable<Beside['visits']> {
  return {
    first: !a.first || (b.first && b.first.at < a.first.at) ? b.first : a.first,
    latest: !a.latest || (b.latest && b.latest.at > a.latest.at) ? b.latest : a.latest,
    lastAt: a.lastAt === null || (b.lastAt ?? -Infinity) > a.lastAt ? b.lastAt : a.lastAt,
  }
}

/** Puts moments of one test together, the latest first, no more than the test asks for. */
export const withMoments = (test: ActivityTest, ...some: number[][]): number[] =>
  some
    .flat()
    .sort((a, b) => b - a)
    .slice(0, test.times)
