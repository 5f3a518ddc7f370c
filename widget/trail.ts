import { known } from './agreement'
import { origin } from './origin'

/** Tells that the visitor, who agreed, sees this page. */
export function seePage(base: string): void {
  const who = known(Date.now())
  if (!who) return
  const { page, referrer, utm } = origin()
  void fetch(`${base}/w/views`, {
    method: 'POST', keepalive: true, headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ id: crypto.randomUUID(), ...who, page, title: document.title.slice(0, 300), referrer, utm }),
  }).catch(() => {})
}
