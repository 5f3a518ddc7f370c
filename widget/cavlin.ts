import { holds } from '#core/conditions/condition'
import type { PublicDisplayRules } from '#core/appearing/definition'
import { pageAttributes } from '#core/appearing/pages'
import { agree, forget, refused, visitorIfAgreed } from './agreement'
import type { SiteWord, Tools } from './tools'
import { watchPage } from './page'
import { createTrail } from './trail'

/**
 * The script that a customer's page loads. One global name, `cavlin`; every error is its own. It records the trail
 * of who agreed; what watches for the right moment, and what draws, come when a point may appear (`speak.ts`, `appear.ts`, `mount.ts`).
 *
 *   <script async src="https://…/w/cavlin.js"></script>                         the site's trail, and points that appear
 *   <script async src="https://…/w/cavlin.js" data-point="KEY"></script>   draws the form in its place
 *   <script defer src="…/w/cavlin.js" data-own="page"></script>               brings the form of a page of ours to life
 *   cavlin('agree')  cavlin('decline')  cavlin('forget')  cavlin('agreed')  cavlin('ask')   what the visitor agreed to
 *   cavlin('did', 'name', { … })   something that the visitor did and the site knows; cavlin('open', 'KEY')   opens a point
 */
type Call = [name: string, ...more: unknown[]]
interface Entrance {
  (...call: Call): unknown
  q?: Call[]
  page?: ReturnType<typeof createPage>
}
declare global {
  interface Window {
    cavlin?: Entrance
  }
}

const TICK_MS = 500

function report(error: unknown): void {
  console.warn('Cavlin:', error)
}

/** All of one page: the first script looks after it, the others only draw what they stand for. */
function createPage(base: string) {
  let site: SiteWord | null = null
  let speaking: Promise<ReturnType<typeof import('./speak').speak>> | null = null
  const events: string[] = []
  const busy: { with: string | null } = { with: null }
  const trail = createTrail(
    base,
    to =>
      void chats()
        .then(m => m.spokenTo(to, tools))
        .catch(report),
  )
  const page = watchPage(trail)
  const tools: Tools = {
    base,
    visitor: visitorIfAgreed,
    keeps: () => Boolean(site?.unfinished && visitorIfAgreed()),
    record: trail.record,
    holds,
    onLeave: page.onLeave,
    opened: () => {},
    closed: () => {},
  }
  const part = (name: string) => import(`${base}/w/parts/${name}.js`)
  const form = () => part('mount') as Promise<typeof import('./mount')>
  const chats = () => part('chat') as Promise<typeof import('./chat')>
  const over = () => part('appear') as Promise<typeof import('./appear')>

  /** The field of the site's own forms that was entered last: some type before it is known whether that may be kept. */
  let entered: Element | null = null
  const keepTyped = () => {
    const field = entered
    if (field && tools.keeps())
      (part('typed') as Promise<typeof import('./typed')>).then(m => m.watchSite(field, base, page.onLeave)).catch(report)
  }
  document.addEventListener('focusin', ({ target }) => {
    if (!(target as Element).matches?.('[data-cavlin-keep]')) return
    entered = target as Element
    keepTyped()
  })

  /** Fetches what watches for the moment, when there is a point that may appear on this page. */
  function mayAppear(): void {
    const here = pageAttributes(location, document.title)
    const pages = page.now().who?.pages ?? 1
    // What waits for more pages than were read needs nobody to watch for it here.
    const near = (a: PublicDisplayRules) => !a.moments.length || a.moments.some(m => m.kind !== 'pages' || m.n <= pages)
    if (!speaking && site?.points.some(a => near(a) && (!a.pages || holds(a.pages, here)) && !(a.except && holds(a.except, here)))) {
      speaking = (part('speak') as Promise<typeof import('./speak')>).then(m => m.speak(site!, page, tools, busy, events))
      speaking.catch(report)
    }
  }

  /** The visitor agreed. */
  function become(): boolean {
    if (visitorIfAgreed() || !agree()) return Boolean(visitorIfAgreed())
    page.count()
    speaking?.then(
      s => s.ask(),
      () => {},
    )
    return true
  }
  function ask(): void {
    if (!site?.drawn) return
    // While somebody is asked, nothing else speaks.
    busy.with = 'agreement'
    over()
      .then(m =>
        m.askAgreement(site!, yes => {
          busy.with = null
          if (yes) become()
          else forget(base)
          speaking?.then(
            s => s.look(),
            () => {},
          )
        }),
      )
      .catch(report)
  }

  /** @param ours on a page of ours nothing appears beside what it is for */
  async function begin(ours: boolean): Promise<void> {
    page.open()
    const answer = await fetch(`${base}/w/site`)
    if (!answer.ok) return
    site = (await answer.json()) as SiteWord
    page.allow(site.parameters)
    if (site.agreement === 'not_needed') become()
    // On the first page of a visit; who said nothing is not asked again on each.
    else if (site.agreement === 'own' && !visitorIfAgreed() && !refused() && !document.referrer.startsWith(`${location.origin}/`)) ask()
    // Only of who had agreed before: what was typed until a yes is not sent for it.
    keepTyped()
    if (!ours) mayAppear()
    setInterval(() => {
      page.beat()
      // A page that changes its address by itself has opened another one.
      if (!page.moved()) return
      page.read()
      page.open()
      mayAppear()
      speaking?.then(
        s => s.turned(),
        () => {},
      )
    }, TICK_MS)
  }

  return {
    tools,
    form,
    chats,
    begin: (ours: boolean) => void begin(ours).catch(report),
    call([name, what, more]: Call): unknown {
      if (name === 'agree') return become()
      if (name === 'agreed') return Boolean(visitorIfAgreed())
      // Who says no after a yes has changed their mind.
      if (name === 'decline' || name === 'forget') return forget(base)
      if (name === 'ask') return ask()
      if (typeof what !== 'string') return undefined
      if (name === 'open')
        over()
          .then(m => m.openNow(what, tools))
          .catch(report)
      // Until the release after 2026-11 also by its earlier name.
      if (name !== 'did' && name !== 'event') return undefined
      trail.record('event', { name: what, properties: more })
      events.push(what)
      speaking?.then(
        s => s.look(),
        () => {},
      )
    },
  }
}

function start(): void {
  const own = document.currentScript as HTMLScriptElement | null
  const scripts = own ? [own] : [...document.querySelectorAll<HTMLScriptElement>('script[src*="/w/cavlin.js"]')]
  for (const script of scripts) {
    const base = new URL(script.src).origin
    const { point, own: ours, agreement, landing } = script.dataset
    let page = window.cavlin?.page
    if (!page) {
      const waiting = window.cavlin?.q ?? []
      const made = (page = createPage(base))
      const cavlin: Entrance = (...call) => {
        try {
          return made.call(call)
        } catch (error) {
          report(error)
        }
      }
      cavlin.page = page
      window.cavlin = cavlin
      if (agreement === 'not-needed') agree()
      // In the editor's rehearsal the page is only a picture.
      if (ours ? window === top : location.hash !== '#cavlin-rehearsal') page.begin(Boolean(ours))
      waiting.forEach(call => cavlin(...call))
    }
    const tools = { ...page.tools, base }
    if (point || ours)
      page
        .form()
        .then(m => (point ? m.mount(point, script, tools, page.chats) : m.adopt(tools, landing)))
        .catch(report)
  }
}

try {
  start()
} catch (error) {
  report(error)
}
