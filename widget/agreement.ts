/**
 * What the visitor agreed to. Before that nothing is kept in the browser and nothing is sent.
 * A browser that asks not to be followed has said no.
 */
const VISITOR = 'cavlin.visitor'
const VISIT = 'cavlin.visit'
const ALL = [VISITOR, VISIT, 'cavlin.unsent', 'cavlin.points', 'cavlin.typing', 'cavlin.chats']
const VISIT_ENDS_MS = 30 * 60_000

export interface Known {
  visitor: string
  visit: string
  pages: number
  visits: number
  source: string
}

export const refused = () => Boolean((navigator as { globalPrivacyControl?: boolean }).globalPrivacyControl) || navigator.doNotTrack === '1'

/** Storage may be blocked: then the visitor stays unknown, and the page works as before. */
export function stored(key: string, value?: string | null): string | null {
  try {
    if (value === null) localStorage.removeItem(key)
    else if (value !== undefined) localStorage.setItem(key, value)
    return localStorage.getItem(key)
  } catch {
    return null
  }
}

/** A random id. Where a page came over plain HTTP, the name of an object's address serves. */
export const newId = (): string => crypto.randomUUID?.() ?? URL.createObjectURL(new Blob()).slice(-36)

/** @returns whether the visitor is known from now on */
export function agree(): boolean {
  if (refused()) return false
  return Boolean(stored(VISITOR) || stored(VISITOR, newId()))
}

export const decline = (): void => ALL.forEach(key => stored(key, null))

/** Takes back what was agreed, here and at the server. */
export function forget(base: string): void {
  const visitor = stored(VISITOR)
  decline()
  if (visitor) void fetch(`${base}/w/visitors/${visitor}/forget`, { method: 'POST', keepalive: true }).catch(() => {})
}

export function visitorIfAgreed(): string | null {
  return refused() ? null : stored(VISITOR)
}

/**
 * The visitor and the visit they are in; a visit ends after half an hour without a page.
 * @param opened a page was opened just now, by somebody who came from there
 */
export function known(now: number, opened?: string): Known | null {
  const visitor = visitorIfAgreed()
  if (!visitor) return null
  const [id, last, pages, visits, source] = (stored(VISIT) ?? '').split(' ')
  const goesOn = id && now - Number(last) < VISIT_ENDS_MS
  const k = {
    visitor,
    visit: goesOn ? id : newId(),
    pages: (goesOn ? Number(pages) || 0 : 0) + (opened === undefined ? 0 : 1),
    visits: (Number(visits) || 0) + (goesOn ? 0 : 1),
    source: goesOn && source ? decodeURIComponent(source) : (opened ?? 'direct'),
  }
  // What is looked up twice a second need not be written each time.
  if (!goesOn || opened !== undefined || now - Number(last) > 5000)
    stored(VISIT, `${k.visit} ${now} ${k.pages} ${k.visits} ${encodeURIComponent(k.source)}`)
  return k
}
