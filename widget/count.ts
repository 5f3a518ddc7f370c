import { visitorIfAgreed } from './agreement'

/** Counts that a form was seen and begun, for visitors who agreed; no id goes along. */
export function countUse(form: HTMLFormElement, action: string, edition: number): void {
  const address = action.replace(/entries$/, 'counts')
  const page = location.origin + location.pathname
  const told = new Set<string>()
  const tell = (what: 'seen' | 'started') => {
    if (told.has(what) || !visitorIfAgreed()) return
    told.add(what)
    const body = JSON.stringify({ what, page, edition })
    // A beacon outlives the page; where there is none, an ordinary request does.
    if (!navigator.sendBeacon?.(address, body)) void fetch(address, { method: 'POST', body, keepalive: true }).catch(() => {})
  }
  form.addEventListener('input', () => {
    tell('seen')
    tell('started')
  }, { once: true })
  if (!('IntersectionObserver' in window)) return tell('seen')
  const watcher = new IntersectionObserver((seen) => {
    if (!seen.some(s => s.isIntersecting)) return
    watcher.disconnect()
    tell('seen')
  }, { threshold: 0.3 })
  watcher.observe(form)
}
