import type { Memory } from '#core/appearing/decide'
import { known, stored, visitorIfAgreed } from './agreement'

/**
 * What this browser remembers of points: when one was closed, answered, how often shown in this visit.
 * Without agreement nothing is kept beyond the page. That it is not the first page of the visit the browser says
 * itself; so what comes uninvited comes once to those, too, and not on every page.
 */
const POINTS = 'cavlin.points'
const OFTEN = 99
let here: Record<string, Memory & { visit?: string }> = {}

function all(): typeof here {
  try {
    return visitorIfAgreed() ? (JSON.parse(stored(POINTS) || '{}') as typeof here) : here
  } catch {
    return here
  }
}

export const cameFromHere = (): boolean => document.referrer.startsWith(`${location.origin}/`)

export function memoryOf(key: string): Memory {
  const { visit, ...memory } = all()[key] ?? {}
  const now = known(Date.now())?.visit
  if (!now) return cameFromHere() ? { ...memory, shown: OFTEN } : memory
  return visit === now ? memory : { ...memory, shown: 0 }
}

export function remember(key: string, more: Memory): void {
  const visit = known(Date.now())?.visit
  here = { ...all(), [key]: { ...memoryOf(key), ...more, ...(visit && { visit }) } }
  if (visit) stored(POINTS, JSON.stringify(here))
}
