import type { Seat } from '#core/routing/plan'

/**
 * What each member of a lane is owed: after n leads of which they should have got the share s and got x, it is n·s − x. It is kept
 * as it is while somebody is away, so that who comes back neither drowns nor is skipped, and who is new begins level, at 0.
 */
export type Credits = Map<string, number>

/** Sums of shares come out a little beside whole numbers. */
const EPSILON = 1e-9

/**
 * Whose go it is, by shares: of those who are owed something with this lead, the one who would first be owed a whole one. So after
 * any number of leads nobody is a whole one from their share, as long as the same people are there. (Scheduling by the earliest
 * deadline within windows: Baruah, Cohen, Plaxton, Varvel 1996, "Proportionate progress", Algorithmica 15.)
 * @param seats those who are there, in the order of the pool; the earlier one among equals
 */
export function whoseTurn(seats: readonly Seat[], credits: Credits): string | null {
  const all = seats.reduce((sum, s) => sum + s.share, 0)
  let next: string | null = null
  let [isDue, soonest] = [false, Infinity]
  for (const { member, share } of seats) {
    const part = share / all
    const owed = (credits.get(member) ?? 0) + part
    const due = owed > EPSILON
    // How many more leads until a whole one is owed.
    const until = (1 - owed) / part
    if ((due && !isDue) || (due === isDue && until < soonest - EPSILON)) [next, isDue, soonest] = [member, due, until]
  }
  return next
}

/** Counts a lead that was given to one of those who are there: all are owed their part of it, the one has got it. */
export function take(seats: readonly Seat[], credits: Credits, member: string): void {
  const all = seats.reduce((sum, s) => sum + s.share, 0)
  for (const seat of seats) credits.set(seat.member, (credits.get(seat.member) ?? 0) + seat.share / all)
  credits.set(member, (credits.get(member) ?? 0) - 1)
}
