import { speakers, type Situation } from '#core/appearing/decide'
import type { PublicDisplayRules } from '#core/appearing/definition'
import { visitorIfAgreed } from './agreement'
import { memoryOf, remember } from './memory'
import type { SiteWord, Tools } from './tools'
import type { Page } from './page'

/** Watches for the moment at which a point appears. Fetched when one may appear on the page that is open. */
const TICK_MS = 1000
const SCROLL_MS = 200
const FLICK_PX = 500
interface Audience {
  said: Record<string, boolean[]>
  until: number
}

/** A chat stands with its tab, and greets beside it. */
const markOf = (a: PublicDisplayRules) => (a.chat ? `${a.key} ${a.placement}` : a.key)

export function speak(site: SiteWord, page: Page, tools: Tools, busy: { with: string | null }, events: string[]) {
  let audience: Audience | null = null
  /** Who the browser is shown to belong to, as they are called. */
  let called = ''
  let acted = Date.now()
  let leaving = false
  const clicked: string[] = []
  const ruleset = new Set<string>()
  let turn = 0
  /** What stands on this page, and goes with it. */
  let takeAway: (() => void)[] = []

  const device = !matchMedia('(pointer: coarse)').matches ? 'computer' : Math.min(screen.width, screen.height) > 600 ? 'tablet' : 'phone'
  const small = matchMedia('(max-width: 640px)')
  function situation(): Situation {
    const now = Date.now()
    const there = new Date(now + site.shift * 60_000)
    const { opened, scrolled, who } = page.now()
    let held = document.activeElement
    while (held?.shadowRoot?.activeElement) held = held.shadowRoot.activeElement
    return {
      page: {
        address: location.origin + location.pathname,
        path: location.pathname,
        title: document.title,
        query: Object.fromEntries(new URLSearchParams(location.search)),
      },
      seconds: (now - opened) / 1000,
      idle: (now - acted) / 1000,
      scrolled,
      leaving,
      pages: who?.pages ?? 1,
      clicked,
      events,
      visitor: {
        returning: (who?.visits ?? 1) > 1,
        source: who?.source ?? page.source(),
        language: navigator.language.slice(0, 2),
        device,
      },
      small: small.matches,
      day: there.toISOString().slice(0, 10),
      weekday: there.getUTCDay() || 7,
      hour: there.getUTCHours(),
      now,
      typing:
        held?.matches('input:not([type=submit],[type=button]),textarea,select,[contenteditable]:not([contenteditable=false])') ?? false,
    }
  }

  const oursOf = (a: PublicDisplayRules) => (audience && audience.until > Date.now() && audience.said[a.key]) || a.nobody
  function look(): void {
    if (document.visibilityState === 'hidden') return
    for (const a of speakers(site.points, situation(), memoryOf, oursOf, Boolean(busy.with))) {
      if (ruleset.has(markOf(a)) || (a.placement === 'text' && !document.querySelector(`[data-cavlin-place="${a.key}"]`))) continue
      ruleset.add(markOf(a))
      if (a.placement === 'button') continue
      if (a.placement === 'float') {
        const page = turn
        const stands: Promise<(() => void) | null> = a.chat
          ? import('./chat.js').then(m => m.tab(a, { ...tools, opened, closed }))
          : import('./appear.js').then(m => m.float(a, { ...tools, opened, closed }))
        stands
          .then(away => {
            // Meanwhile another page may have been opened.
            if (page !== turn) away?.()
            else if (away) takeAway.push(away)
          })
          .catch(error => console.warn('Cavlin:', error))
        continue
      }
      const uninvited = a.placement !== 'text'
      const free = () => {
        if (uninvited && busy.with === a.key) busy.with = null
      }
      if (uninvited) busy.with = a.key
      const shows =
        a.chat && uninvited
          ? import('./chat.js').then(m => m.greet(a, { ...tools, opened, closed }, called))
          : import('./appear.js').then(m => m.appear(a, { ...tools, opened, closed }))
      shows.then(
        stands => stands || free(),
        error => {
          free()
          console.warn('Cavlin:', error)
        },
      )
    }
  }
  const opened = (key: string) => remember(key, { shown: (memoryOf(key).shown ?? 0) + 1 })
  function closed(key: string, answered: boolean): void {
    if (busy.with === key) busy.with = null
    remember(key, answered ? { answeredAt: Date.now() } : { closedAt: Date.now() })
    // Somebody else may speak now.
    setTimeout(look)
  }

  /** What only the server knows of this person, in a word that it signed and that holds for some minutes. */
  async function ask(): Promise<void> {
    const visitor = visitorIfAgreed()
    if (!visitor || !site.points.some(a => a.nobody.length || (a.chat && a.invitation.includes('{{')))) return
    // Who opened a mailed link here is who the mail was for.
    const word = new URLSearchParams(location.search).get('cavlin')
    const answer = await fetch(`${tools.base}/w/visitors/${visitor}/audience${word ? `?cavlin=${encodeURIComponent(word)}` : ''}`)
    if (!answer.ok) return look()
    const told = (await answer.json()) as { token: string; called?: string }
    called = told.called ?? ''
    audience = JSON.parse(atob(told.token.split('.')[0]!.replace(/-/g, '+').replace(/_/g, '/'))) as Audience
    look()
  }

  function goes(): void {
    leaving = true
    look()
  }
  let due = 0
  let top = scrollY
  let topAt = 0
  addEventListener(
    'scroll',
    () => {
      due ||= setTimeout(() => {
        due = 0
        look()
      }, SCROLL_MS) as unknown as number
      // Up, fast and far, is how a thumb says that it has seen enough.
      if (scrollY > top || Date.now() - topAt > 400) [top, topAt] = [scrollY, Date.now()]
      else if (top - scrollY > FLICK_PX && device !== 'computer') goes()
    },
    { passive: true },
  )
  // On a phone going back is how people leave. A step of our own, made with their first touch, is what they go back over
  // first; where nothing has to be said, or the page keeps its own account of steps, nothing is in their way.
  const step = () => {
    if (
      device === 'computer' ||
      history.state !== null ||
      !speakers(site.points, { ...situation(), leaving: true }, memoryOf, oursOf, Boolean(busy.with)).some(a =>
        a.moments.some(m => m.kind === 'leaving'),
      )
    )
      return
    removeEventListener('pointerup', step)
    const here = location.href
    history.replaceState({ cavlin: 0 }, '')
    history.pushState({ cavlin: 1 }, '')
    addEventListener('popstate', () => {
      if ((history.state as { cavlin?: number } | null)?.cavlin !== 0 || location.href !== here) return
      goes()
      if (!busy.with) history.back()
    })
  }
  addEventListener('pointerup', step)
  document.documentElement.addEventListener('mouseleave', event => event.clientY <= 0 && goes())
  for (const kind of ['pointermove', 'keydown', 'pointerdown', 'scroll'])
    addEventListener(
      kind,
      () => {
        acted = Date.now()
      },
      { passive: true },
    )

  const wanted = site.points.flatMap(a => a.moments.flatMap(m => (m.kind === 'click' ? [m.what] : [])))
  document.addEventListener(
    'click',
    event => {
      const at = event.target as Element
      if (!at.closest) return
      for (const what of wanted) {
        try {
          if (at.closest(what)) clicked.push(what)
        } catch {
          /* Not a selector: nothing on the page is meant by it. */
        }
      }
      // An element of the page opens a point as long as its rules hold; otherwise it does what it does anyway.
      const key = at.closest<HTMLElement>('[data-cavlin-open]')?.dataset.cavlinOpen
      if (
        key &&
        (ruleset.has(key) || ruleset.has(`${key} button`)) &&
        !event.ctrlKey &&
        !event.metaKey &&
        site.points.some(a => a.key === key && a.placement === 'button')
      ) {
        event.preventDefault()
        import('./appear.js').then(m => m.openNow(key, { ...tools, opened, closed })).catch(error => console.warn('Cavlin:', error))
      }
      look()
    },
    true,
  )
  document.addEventListener('focusout', () => setTimeout(look))
  document.addEventListener('visibilitychange', look)
  // By the clock only where a moment goes by it.
  if (site.points.some(a => a.period.hours || a.moments.some(m => m.kind === 'seconds' || m.kind === 'idle'))) setInterval(look, TICK_MS)
  void ask().catch(() => {})
  look()

  return {
    look,
    /** The visitor agreed just now. */
    ask: () => void ask().catch(() => {}),
    /** Another page was opened without loading one. */
    turned() {
      leaving = false
      clicked.length = events.length = 0
      turn++
      takeAway.forEach(away => away())
      takeAway = []
      acted = Date.now()
      for (const a of site.points) if (a.placement !== 'text' && a.key !== busy.with) ruleset.delete(markOf(a))
      look()
    },
  }
}
