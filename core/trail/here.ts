/** How sure it is that somebody is there. */
export type Here = 'here' | 'perhaps gone' | 'gone'

/** Whoever says nothing for so long may have gone without a word: one that is looked at speaks twice in that time. */
const SILENT_MS = 60_000
/** From one page to the next it takes that long at most. */
const BETWEEN_MS = 10_000

/** A visit as far as it matters here. Times in milliseconds since 1970; `goneAt`: when its last page was left, if it was. */
export interface Stay {
  beganAt: number
  lastAt: number
  goneAt: number | null
}

/** Whether somebody is there at a moment. */
export function hereAt({ lastAt, goneAt }: Stay, now: number): Here {
  if (goneAt !== null) return now - goneAt > BETWEEN_MS ? 'gone' : 'here'
  return now - lastAt > SILENT_MS ? 'perhaps gone' : 'here'
}

/** Seconds that they have been there, for as long as it is sure that they are. */
export function stayedAt(stay: Stay, now: number): number {
  const until = hereAt(stay, now) === 'here' ? now : (stay.goneAt ?? stay.lastAt)
  return Math.max(0, (until - stay.beganAt) / 1000)
}
