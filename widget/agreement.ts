/**
 * What the visitor agreed to. Before that nothing is kept in the browser and nothing is sent.
 * A browser that asks not to be followed has said no.
 */
const VISITOR = 'cavlin.visitor'
const VISIT = 'cavlin.visit'
const VISIT_ENDS_MS = 30 * 60_000

export interface Known { visitor: string; visit: string }

const refused = () => Boolean((navigator as { globalPrivacyControl?: boolean }).globalPrivacyControl) || navigator.doNotTrack === '1'

/** Storage may be blocked: then the visitor stays unknown, and the page works as before. */
function stored(key: string, value?: string | null): string | null {
  try {
    if (value === null) localStorage.removeItem(key)
    else if (value !== undefined) localStorage.setItem(key, value)
    return localStorage.getItem(key)
  } catch {
    return null
  }
}

/** @returns whether the visitor is known from now on */
export function agree(): boolean {
  if (refused()) return false
  return Boolean(stored(VISITOR) || stored(VISITOR, crypto.randomUUID()))
}

export function decline(): void {
  stored(VISITOR, null)
  stored(VISIT, null)
}

/** Takes back what was agreed, here and at the server, as far as it belongs to nobody by name. */
export function forget(base: string): void {
  const visitor = stored(VISITOR)
  decline()
  if (visitor) void fetch(`${base}/w/visitors/${visitor}/forget`, { method: 'POST', keepalive: true }).catch(() => {})
}

export function visitorIfAgreed(): string | null {
  return refused() ? null : stored(VISITOR)
}

/** The visitor and the visit they are in; a visit ends after half an hour without a page. */
export function known(now: number): Known | null {
  const visitor = visitorIfAgreed()
  if (!visitor) return null
  const [visit, last] = (stored(VISIT) ?? '').split(' ')
  const current = visit && now - Number(last) < VISIT_ENDS_MS ? visit : crypto.randomUUID()
  stored(VISIT, `${current} ${now}`)
  return { visitor, visit: current }
}
