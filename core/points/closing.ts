import type { Shut } from '#core/points/refusals'
import type { Closing } from '#core/points/shapes/rules'

export { ALWAYS_OPEN } from '#core/points/defaults'
export type { Closing } from '#core/points/shapes/rules'

export type Openness = 'open' | Shut

/**
 * Whether a point takes entries at a moment.
 * @param now milliseconds since 1970
 * @param taken complete entries so far; 0 where they are not counted
 */
export function openness(closing: Closing, now: number, taken: number): Openness {
  if (closing.from !== null && now < Date.parse(closing.from)) return 'early'
  if (closing.until !== null && now >= Date.parse(closing.until)) return 'late'
  return closing.entries !== null && taken >= closing.entries ? 'full' : 'open'
}
