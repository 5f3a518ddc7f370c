import type { Closing } from '#core/points/shapes/rules'

export { ALWAYS_OPEN } from '#core/points/defaults'
export type { Closing } from '#core/points/shapes/rules'

export type Openness = 'open' | 'early' | 'late' | 'full'

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

/** What a visitor reads who comes when it is not open. */
export function closedText(closing: Closing, how: Exclude<Openness, 'open'>): string {
  return closing.text || { early: 'This form is not open yet. Come back a little later.', late: 'This form is closed.', full: 'All places are taken.' }[how]
}
