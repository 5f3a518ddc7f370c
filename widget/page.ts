import type { Trail } from './trail'
import { known, type Known } from './agreement'
import { origin } from './origin'

/** Tells the trail of the page that is open: which, how long in sight, how far down, and what was clicked that counts. */
const BEAT_MS = 25_000
const SILENT_MS = 60_000
const FILES = /\.(pdf|zip|docx?|xlsx?|pptx?|od[tsp]|csv|ics|epub|mp[34]|dwg|dxf)$/i

export function watchPage(trail: Trail) {
  let path = ''
  let opened = 0
  let inSight = 0
  let since = 0
  let depth = 0
  let who: Known | null = null
  let parameters: string[] = []
  const leave: (() => void)[] = []
  let acted = Date.now()
  let hidden = false
  const visible = () => document.visibilityState === 'visible'

  function scrolled(): number {
    const most = document.documentElement.scrollHeight - innerHeight
    return most > 0 ? Math.min(100, Math.round((100 * scrollY) / most)) : 100
  }
  /** Where they came from, in a word: as the server reads it (`sourceOf`). */
  function source(): string {
    const { referrer, utm } = origin()
    return utm.source ?? (referrer ? new URL(referrer).hostname.replace(/^www\./, '') : 'direct')
  }
  /** Counts the page for a visitor who agreed. */
  function count(): void {
    who = known(Date.now(), source())
    const query: Record<string, string> = {}
    new URLSearchParams(location.search).forEach((value, name) => {
      if (parameters.includes(name)) query[name] = value
    })
    trail.record('page', { title: document.title, query }, true)
  }
  function open(): void {
    path = location.pathname
    opened = Date.now()
    since = visible() ? opened : 0
    inSight = depth = 0
    count()
  }
  function read(): void {
    if (since) inSight += Date.now() - since
    since = visible() ? Date.now() : 0
    const seconds = Math.round(inSight / 1000)
    inSight -= seconds * 1000
    if (seconds || depth) trail.record('read', { seconds, depth, path })
  }
  function away(gone?: boolean): void {
    leave.forEach(done => done())
    read()
    if (gone) trail.record('gone', { path })
    trail.send(true)
  }
  document.addEventListener('visibilitychange', () => {
    if (visible()) since = Date.now()
    else if (!hidden) away()
  })
  addEventListener('pagehide', () => {
    away(true)
    hidden = true
  })
  // Back to a page that the browser had kept as it was.
  addEventListener('pageshow', ({ persisted }) => {
    hidden = false
    if (persisted) count()
  })
  addEventListener(
    'scroll',
    () => {
      depth = Math.max(depth, scrolled())
    },
    { passive: true },
  )
  for (const kind of ['scroll', 'pointermove', 'keydown'])
    addEventListener(
      kind,
      () => {
        acted = Date.now()
      },
      { passive: true },
    )
  document.addEventListener(
    'click',
    ({ target }) => {
      const mark = (target as Element).closest?.<HTMLElement>('[data-cavlin-mark]')
      if (mark) trail.record('mark', { mark: mark.dataset.cavlinMark || mark.textContent })
      const link = (target as Element).closest?.<HTMLAnchorElement>('a[href]')
      if (link && (link.hasAttribute('download') || FILES.test(link.pathname)))
        trail.record('file', { file: link.pathname.split('/').pop() }, true)
    },
    true,
  )

  return {
    open,
    count,
    read,
    source,
    /** Says now and then that somebody is still there, as long as they do something. */
    beat() {
      const now = Date.now()
      if (since && now - since > BEAT_MS && now - acted < SILENT_MS) read()
    },
    onLeave: (done: () => void) => void leave.push(done),
    allow: (names: string[]) => {
      parameters = names
    },
    moved: () => location.pathname !== path,
    now: () => ({ opened, scrolled: scrollY ? scrolled() : 0, who }),
  }
}
export type Page = ReturnType<typeof watchPage>
