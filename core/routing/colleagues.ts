import { isAtWork, nextWork, worksToday, type WorkingHours } from '#core/working-time'

/** Somebody is away, half-open, in milliseconds since 1970; who looks after their leads meanwhile, if anybody does. */
export interface Absence {
  from: number
  until: number
  standIn: string | null
}
/** What routing knows of somebody who works here. */
export interface Colleague {
  id: string
  hours: WorkingHours
  /** They get no more in turns while they have so many open leads; null: there is no limit. */
  mostOpen: number | null
  /** What they speak, by the codes of languages. */
  languages: string[]
  absences: Absence[]
}
/** Everybody who works here, by their ids. */
export type Colleagues = ReadonlyMap<string, Colleague>

const absenceAt = (c: Colleague, at: number): Absence | undefined => c.absences.find(a => a.from <= at && at < a.until)
export const isAway = (c: Colleague, at: number): boolean => absenceAt(c, at) !== undefined

/** So many stand in for each other in a row at most. */
const MOST_STEPS = 5

/**
 * Who looks after what is somebody's at a moment: they themselves, or whoever stands in for them, and so on.
 * @returns null when nobody does, or they have left
 */
export function lookedAfterBy(all: Colleagues, id: string, at: number): Colleague | null {
  let now = all.get(id)
  for (let steps = 0; now && steps < MOST_STEPS; steps++) {
    const absence = absenceAt(now, at)
    if (!absence) return now
    now = absence.standIn === null ? undefined : all.get(absence.standIn)
  }
  return null
}

/** The first moment from one on at which somebody is at work and not away; null when there is none within 400 days. */
export function nextThere(c: Colleague, at: number): number | null {
  let from = at
  for (;;) {
    const work = nextWork(from, c.hours)
    const absence = work === null ? undefined : absenceAt(c, work)
    if (work === null || !absence) return work
    from = absence.until
  }
}

export const isThere = (c: Colleague, at: number): boolean => !isAway(c, at) && isAtWork(at, c.hours)
/** Whether somebody is there still on the day of a moment: at work, or not yet. */
export const isThereToday = (c: Colleague, at: number): boolean => !isAway(c, at) && worksToday(at, c.hours)
