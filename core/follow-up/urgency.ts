import { workingMinutes, type WorkingHours } from '#core/working-time'

/** How pressing somebody who waits is. */
export interface Urgency {
  /** Working minutes since they came and nobody reacted. */
  waited: number
  /** Working minutes within which the team promised to react. */
  target: number
  state: 'in time' | 'soon' | 'overdue'
}

/** From this share of the response target on, somebody needs an answer soon. */
const SOON = 0.6

/**
 * How pressing it is to answer somebody. Who has waited the largest share of
 * what was promised to people of their label stands first: long waits and good labels both lift.
 */
export function urgency(waitingSince: number, now: number, target: number, hours: WorkingHours): Urgency {
  const waited = workingMinutes(waitingSince, now, hours)
  const share = waited / target
  return { waited, target, state: share >= 1 ? 'overdue' : share >= SOON ? 'soon' : 'in time' }
}

/** Orders by share of the promise used up, most first; equal shares by the shorter promise. */
export const byUrgency = (a: Urgency, b: Urgency) => b.waited / b.target - a.waited / a.target || a.target - b.target
