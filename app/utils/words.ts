import { DateTime } from 'luxon'

export { count } from '#core/text'
export { cameFrom } from '#core/trail/visits'

/** A moment as people say it: `just now`, `12 min ago`, `yesterday 14:05`, `3 Nov 14:05`. */
export function ago(iso: string, now = Date.now()): string {
  const then = DateTime.fromISO(iso)
  const minutes = Math.floor((now - then.toMillis()) / 60_000)
  if (minutes < 1) return 'just now'
  if (minutes < 60) return `${minutes} min ago`
  const today = DateTime.fromMillis(now)
  if (then.hasSame(today, 'day')) return `today ${then.toFormat('HH:mm')}`
  if (then.hasSame(today.minus({ days: 1 }), 'day')) return `yesterday ${then.toFormat('HH:mm')}`
  return then.toFormat(then.hasSame(today, 'year') ? 'd LLL HH:mm' : 'd LLL yyyy')
}

/** When something is due: `today 14:00`, `tomorrow 9:00`, `Fri 27 Nov 9:00`. */
export function due(iso: string, now = Date.now()): string {
  const then = DateTime.fromISO(iso)
  const today = DateTime.fromMillis(now)
  const time = then.toFormat('HH:mm')
  if (then.hasSame(today, 'day')) return `today ${time}`
  if (then.hasSame(today.plus({ days: 1 }), 'day')) return `tomorrow ${time}`
  if (then.hasSame(today.minus({ days: 1 }), 'day')) return `yesterday ${time}`
  return then.toFormat('ccc d LLL HH:mm')
}

/** A working time: `40 min`, `3 h`, `2 days`, which are working days of `dayHours` hours. */
export function workingTime(minutes: number, dayHours: number): string {
  if (minutes < 60) return `${Math.max(0, Math.floor(minutes))} min`
  const hours = minutes / 60
  if (hours < dayHours * 2) return `${Math.floor(hours)} h`
  return `${Math.floor(hours / dayHours)} days`
}

/** A share as a whole percentage. */
export const percent = (share: number): string => `${Math.round(share * 100)}%`

/** A short time: `40 s`, `3 min`, `1 h 5 min`. */
export function duration(seconds: number): string {
  const s = Math.round(seconds)
  if (s < 60) return `${s} s`
  const minutes = Math.floor(s / 60)
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`
}

/** A day, as people write it: 3 May 2027. */
export const day = (iso: string): string => new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })
/** A day of the calendar (`2026-05-01`) in words, whatever zone one reads it in. */
export const calendarDay = (iso: string): string => day(`${iso}T12:00:00`)
/** The day that somebody picked in a calendar: `2026-05-01`. */
export const isoDay = (d: Date): string =>
  `${d.getFullYear()}-${String(d.getMonth() + 1).padStart(2, '0')}-${String(d.getDate()).padStart(2, '0')}`

const SET_ASIDE: Record<string, string> = {
  origin: 'It came from a site that this form may not be used from.',
  trap: 'A field that people do not see was filled in, which machines do.',
  unproven: 'Machines were at this form, or it always asks for a proof, and this came without one.',
  too_fast: 'It came back faster than anybody can read.',
  unknown_person: 'We do not know this person, and the form is for people we know.',
  every_one: 'Each entry of this form waits until somebody lets it in.',
  condition: 'By what it says, this form holds it.',
}
/** Why an entry was set aside, in a sentence. */
export const whySetAside = (reason: string): string => SET_ASIDE[reason] ?? reason
