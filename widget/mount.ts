import type { Answers, PublicPoint } from '#core/points/definition'
import type { Flaw } from '#core/flaws'
import { closedMarkup, formMarkup, thanksMarkup, type Way } from '#core/points/markup'
import type { DrawnTheme } from '#core/points/theme'
import { SHEET } from '#core/points/style'
import { bucket, OWN } from '#core/points/variants'
import { variantOf, watchUse } from './use'
import { bring, type LiveForm } from './form'
import { remember } from './memory'
import { visitorIfAgreed } from './agreement'
import { origin } from './origin'
import type { Tools } from './tools'
import type { Keeper } from './typed'

/** The live point with a key, as it is to be drawn. A personal link says who comes: what we know stands there already. */
export async function fetchPoint(key: string, base: string): Promise<PublicPoint> {
  const personal = new URLSearchParams(location.search).get('cavlin')
  const { lang } = document.documentElement
  const query = new URLSearchParams({ ...(lang && { lang }), ...(personal && { cavlin: personal }) })
  const answer = await fetch(`${base}/w/points/${encodeURIComponent(key)}?${query}`)
  if (!answer.ok) throw new Error(`The form ${key} is not to be had (${answer.status}).`)
  const point = drawn(await answer.json() as PublicPoint)
  await fontsFor(point.drawn!)
  return point
}

/** So long a form waits for its font; one that comes later changes nothing that was shown. */
const FONT_MS = 400
const fontsOf = ({ fonts }: DrawnTheme) => fonts.map((f) => {
  const face = new FontFace(f.family, `url(${f.url})`, { unicodeRange: f.letters, weight: '200 900', display: 'optional' })
  document.fonts.add(face)
  return face
})
/** Fonts belong to the page; where its policy lets none in, the next in line serves. Letters beyond the usual ones come when they are there. */
export const fontsFor = (theme: DrawnTheme) => Promise.race([fontsOf(theme).at(-1)?.load().catch(() => {}), new Promise<void>(done => setTimeout(done, theme.fonts.length && FONT_MS))])

/** The variant that falls to this visitor. Who is not known gets the point's own: nobody could say what they saw before. */
export function drawn<P extends { experiment?: string; variants?: { key: string }[] }>(point: P): P & { variant?: string } {
  const visitor = visitorIfAgreed()
  if (!visitor || !point.experiment) return point
  const own = point.variants![bucket(visitor, point.experiment, point.variants!.length + 1) - 1]
  return own ? { ...point, ...own, key: (point as unknown as { key: string }).key, variant: own.key } : { ...point, variant: OWN }
}

/** An element with a shadow root of its own, where neither side's rules reach the other. */
export function shadow(key: string, { variables }: DrawnTheme, rules: string): { host: HTMLElement; root: ShadowRoot } {
  const host = document.createElement('div')
  host.dataset.cavlin = key
  const root = host.attachShadow({ mode: 'open' })
  // A constructed sheet: a page's content security policy has no say in it.
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(`:host{display:block;${variables}}${SHEET}${rules}`)
  root.adoptedStyleSheets = [sheet]
  return { host, root }
}

/** A point's form inside an element, brought to life. */
export function draw(into: ShadowRoot | HTMLElement, point: PublicPoint, how: { via: string; placement: string; done?: () => void }, tools: Tools): HTMLFormElement {
  into.innerHTML = formMarkup(point, { action: `${tools.base}/w/points/${point.key}/entries`, base: tools.base })
  const form = into.querySelector('form')!
  enliven(form, point, how, tools)
  return form
}

/** Draws a live point in the place of its script tag. */
export async function mount(key: string, script: HTMLScriptElement, tools: Tools): Promise<void> {
  const point = await fetchPoint(key, tools.base)
  const { host, root } = shadow(key, point.drawn!, '')
  if (point.closed !== undefined) root.innerHTML = closedMarkup(point.title, point.closed, point.language)
  else draw(root, point, { via: script.dataset.via ?? 'script', placement: 'text' }, tools)
  host.style.minHeight = script.style.minHeight
  // The tag kept the room until now; both change in one go, so nothing jumps.
  script.style.display = 'none'
  if (!document.head.contains(script)) return script.after(host)
  // In the head nothing shows: a tag that was put there draws at the end of the page.
  if (document.readyState === 'loading') await new Promise(done => document.addEventListener('DOMContentLoaded', done, { once: true }))
  document.body.append(host)
}

/** Makes a form that stands on its own page send without leaving it. Its definition stands beside it. */
export function adopt(plain: Tools, landing?: string): void {
  // On a page of ours looks are counted also of who did not agree: without saying who it is, and with nothing kept in the browser.
  const say = (data: object) => navigator.sendBeacon?.(`${plain.base}/w/looks`, JSON.stringify({ path: location.pathname, ...data }))
  const tools: Tools = {
    ...plain,
    record: (kind, data, soon) => plain.visitor() ? plain.record(kind, data, soon) : kind !== 'finished' && say({ kind, point: data?.point, edition: data?.edition, question: data?.question, first: data?.first }),
  }
  if (landing) say({ kind: 'seen', landing })
  const form = document.querySelector<HTMLFormElement>('form.cv')
  const data = document.getElementById('cavlin-point')
  if (form && data) enliven(form, JSON.parse(data.textContent!) as PublicPoint, { via: form.querySelector<HTMLInputElement>('[name=_via]')?.value ?? 'page', placement: 'page' }, tools)
}

/** Sends what was answered, without leaving the page. */
function enliven(form: HTMLFormElement, point: PublicPoint, { via, placement, done }: { via: string; placement: string; done?: () => void }, tools: Tools): void {
  const blank = form.cloneNode(true) as HTMLFormElement
  const restart = (place: HTMLElement) => {
    place.replaceWith(blank)
    enliven(blank, point, { via, placement, done }, tools)
    blank.querySelector<HTMLElement>('input:not([type=hidden])')?.focus()
  }
  let seen = Date.now()
  const use = watchUse(form, point, placement, tools)
  const live = bring(form, point, new URLSearchParams(location.search), tools.holds)
  const typing = watchTyping(form, point, live, tools)
  if (point.quiz) void resume(form, point, live, tools.base, () => seen, (now, old) => enliven(now, old, { via, placement, done }, tools)).then(since => { seen = since })
  let sent = { text: '', key: '' }
  form.addEventListener('submit', (event) => {
    event.preventDefault()
    const answers = live.answers()
    // The same answers again are the same entry, however often a shaky line makes somebody press.
    const text = JSON.stringify([answers, live.files().map(([, f]) => [f.size, f.lastModified])])
    if (text !== sent.text) sent = { text, key: crypto.randomUUID?.() ?? `${Date.now()}-${Math.random()}` }
    const data = new FormData(form)
    const [homepage, landing] = [data.get('_homepage'), data.get('_landing')]
    void send(form, point, live, { answers, edition: point.edition, language: point.language, via, took: Date.now() - seen, ...(homepage && { homepage }), ...(landing && { landing }), ...typing(), ...variantOf(point), ...origin() }, sent.key, tools.visitor, () => {
      use.finished()
      remember(point.key, { answeredAt: Date.now() })
      if (point.quiz) void import('./resume').then(m => m.end(point.key))
      done?.()
    }, restart)
  })
}

/** A quiz goes on where it was after a reload, in the edition in which it was begun. */
async function resume(form: HTMLFormElement, point: PublicPoint, live: LiveForm, base: string, seen: () => number, anew: (form: HTMLFormElement, old: PublicPoint) => void): Promise<number> {
  const { asBegun, goOn, keep } = await import('./resume')
  const parent = form.parentNode as ParentNode
  const old = await asBegun(form, point, base)
  if (old) anew(parent.querySelector('form')!, old)
  const since = (!old && goOn(form, point.key, live)) || seen()
  for (const kind of ['input', 'click']) form.addEventListener(kind, () => setTimeout(() => form.isConnected && keep(point, live, seen())))
  return since
}

/** Keeps what is typed, once somebody types who agreed. @returns what becomes of it when it is sent */
function watchTyping(form: HTMLFormElement, point: PublicPoint, live: LiveForm, tools: Tools): () => { unfinished?: string } {
  let keeper: Promise<Keeper> | null = null
  let ready: Keeper | null = null
  for (const kind of ['input', 'focusout']) form.addEventListener(kind, () => {
    if (!tools.keeps() || (!keeper && kind !== 'input')) return
    keeper ??= import('./typed').then(m => ready = m.keepForm(form, point, live.answers, tools))
    keeper.then(k => form.isConnected && k.typed(kind !== 'input'), () => {})
  })
  return () => ({ unfinished: ready?.end() })
}

/** Files go beside what would go without them. */
function withFiles(body: Body, files: [string, File][]): FormData {
  const data = new FormData()
  const answers = { ...body.answers }
  for (const [key, file] of files) {
    delete answers[key]
    data.append(key, file)
  }
  data.append('_entry', JSON.stringify({ ...body, answers }))
  return data
}

interface Challenge { algorithm: string; challenge: string; salt: string; signature: string; maxnumber: number }
/** Works out the sum that a form asks for while machines are at it. */
async function prove(c: Challenge): Promise<string> {
  const { solveChallenge } = await import('altcha-lib/v1')
  const solved = await solveChallenge(c.challenge, c.salt, c.algorithm, c.maxnumber).promise
  return btoa(JSON.stringify({ ...c, number: solved?.number }))
}

/** Some two minutes. */
const MOST_TRIES = 15
type Body = { answers: Answers } & Record<string, unknown>
interface Reply { next?: { kind: string; text?: string; url?: string; name?: string; ways?: Way[]; html?: string }; challenge?: Challenge; detail?: string; errors?: Flaw[] }

async function send(form: HTMLFormElement, { words, language }: PublicPoint, live: LiveForm, body: Body, key: string, visitorOf: Tools['visitor'], done: () => void, restart: (place: HTMLElement) => void): Promise<void> {
  const button = form.querySelector<HTMLButtonElement>('.cv-send')!
  if (button.disabled) return
  button.disabled = true
  try {
    const visitor = visitorOf()
    const whole = { ...body, ...(visitor && { visitor }) }
    const files = live.files()
    const ask = async (more: object) => {
      const all = { ...whole, ...more }
      const answer = await fetch(form.action, { method: 'POST', headers: { 'idempotency-key': key, ...(files.length ? {} : { 'content-type': 'application/json' }) }, body: files.length ? withFiles(all, files) : JSON.stringify(all) })
      // Who stands before us and cannot reach us answers in words of its own.
      if (answer.status > 501) throw answer
      return { ok: answer.ok, status: answer.status, reply: await answer.json() as Reply }
    }
    /** Under the same key it counts once, however often it has to be said. */
    const insist = async (more: object) => {
      for (let tries = 0; ; tries++) {
        try {
          return await ask(more)
        } catch (error) {
          if (tries >= MOST_TRIES) throw error
          live.mark([], words.waiting)
          await new Promise(done => setTimeout(done, Math.min(10_000, 1000 * 2 ** tries)))
        }
      }
    }
    let came = await insist({})
    if (came.status === 428 && came.reply.challenge) came = await insist({ proof: await prove(came.reply.challenge) })
    const { reply } = came
    if (came.ok && reply.next) {
      done()
      const { url, text, name, ways, html } = reply.next
      if (url && text === undefined && !html) return void location.assign(url)
      const parent = form.parentNode as ParentNode
      // The room that the form needed would be a hole under a few words.
      ;((form.getRootNode() as ShadowRoot).host as HTMLElement | undefined)?.style.removeProperty('min-height')
      // On a page of its own the title is the page's heading, and stays.
      const heading = form.querySelector('h1')
      form.outerHTML = (heading ? html?.replace(/(<\/?)h2/g, '$1h1') : html) ?? thanksMarkup(text ?? '', [...(url ? [{ text: name ? words.download.replace('{name}', () => name) : words.time, url }] : []), ...(ways ?? [])], language)
      const thanks = parent.querySelector<HTMLElement>('.cv-thanks')!
      if (heading && !html) thanks.prepend(heading)
      thanks.focus()
      thanks.querySelector('.cv-again')?.addEventListener('click', (event) => {
        event.preventDefault()
        restart(thanks)
      })
      return
    }
    live.mark(reply.errors ?? [], reply.detail ?? words.failed)
  } catch {
    live.mark([], words.down)
  } finally {
    button.disabled = false
  }
}
