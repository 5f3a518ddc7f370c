import type { Answers, PublicPoint } from '#core/points/definition'
import type { Flaw } from '#core/flaws'
import { closedMarkup, formMarkup, thanksMarkup, type Way } from '#core/points/markup'
import type { DrawnTheme } from '#core/points/theme'
import { SHEET } from '#core/points/sheet'
import { bucket, OWN } from '#core/points/variants'
import { variantOf, watchUse } from './use'
import { bring, type LiveForm } from './form'
import type { Going } from './quiz'
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
  const point = drawn((await answer.json()) as PublicPoint)
  await Promise.all([fontsFor(point.drawn!), point.quiz && withQuizzes()])
  return point
}

/** What only quizzes need is fetched with the first. */
let quizzes: typeof import('./quiz') | undefined
const withQuizzes = async () => (quizzes ??= await import('./quiz.js'))

/** So long a form waits for its font; one that comes later changes nothing that was shown. */
const FONT_MS = 400
const fontsOf = ({ fonts }: DrawnTheme) =>
  fonts.map(f => {
    const face = new FontFace(f.family, `url(${f.url})`, { unicodeRange: f.letters, weight: '200 900', display: 'optional' })
    document.fonts.add(face)
    return face
  })
/** Fonts belong to the page; where its policy lets none in, the next in line serves. Letters beyond the usual ones come when they are there. */
export const fontsFor = (theme: DrawnTheme) =>
  Promise.race([
    fontsOf(theme)
      .at(-1)
      ?.load()
      .catch(() => {}),
    new Promise<void>(done => setTimeout(done, theme.fonts.length && FONT_MS)),
  ])

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
  sheet.replaceSync(`:host{display:block;${variables}}${SHEET}${quizzes?.sheet ?? ''}${rules}`)
  root.adoptedStyleSheets = [sheet]
  return { host, root }
}

interface How {
  via: string
  placement: string
  done?: () => void
}
/** A point's form inside an element, brought to life. */
export function draw(into: ShadowRoot | HTMLElement, point: PublicPoint, how: How, tools: Tools): HTMLFormElement {
  const seed = point.quiz && quizzes!.seedFor(point.key)
  into.innerHTML = formMarkup(seed ? quizzes!.arranged(point, seed) : point, {
    action: `${tools.base}/w/points/${point.key}/entries`,
    base: tools.base,
  })
  const form = into.querySelector('form')!
  void enliven(form, point, how, tools, seed)
  return form
}

interface Chats {
  standIn: (root: ShadowRoot, point: PublicPoint, tools: Tools) => void
}
/** Draws a live point in the place of its script tag. @param chats fetches what draws a chat */
export async function mount(key: string, script: HTMLScriptElement, tools: Tools, chats: () => Promise<Chats>): Promise<void> {
  const point = await fetchPoint(key, tools.base)
  const { host, root } = shadow(key, point.drawn!, '')
  if (point.closed !== undefined) root.innerHTML = closedMarkup(point.title, point.closed, point.language)
  else if (point.chat) (await chats()).standIn(root, point, tools)
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
    record: (kind, data, soon) =>
      plain.visitor()
        ? plain.record(kind, data, soon)
        : kind !== 'finished' && say({ kind, point: data?.point, edition: data?.edition, question: data?.question, first: data?.first }),
  }
  if (landing) say({ kind: 'seen', landing })
  const form = document.querySelector<HTMLFormElement>('form.cv')
  const data = document.getElementById('cavlin-point')
  if (form && data)
    void enliven(
      form,
      JSON.parse(data.textContent!) as PublicPoint,
      { via: form.querySelector<HTMLInputElement>('[name=_via]')?.value ?? 'page', placement: 'page' },
      tools,
    )
}

/**
 * Sends what was answered, without leaving the page.
 * @param seed of the order that a quiz is asked in, where it is not the one that stands with it
 */
async function enliven(form: HTMLFormElement, plain: PublicPoint, how: How, tools: Tools, seed = plain.seed): Promise<void> {
  const { via, placement, done } = how
  const quiz = plain.quiz && (await withQuizzes())
  const point = quiz && seed ? quiz.arranged(plain, seed) : plain
  const seen = Date.now()
  const going = quiz?.goThrough({
    form,
    point: plain,
    base: tools.base,
    seed: seed ?? 0,
    since: seen,
    markup: formMarkup,
    anew: (now, again, seed) => void enliven(now, again, how, tools, seed),
  })
  const use = watchUse(form, point, placement, tools)
  const live = bring(form, point, new URLSearchParams(location.search), tools.holds, going)
  const typing = watchTyping(form, point, live, tools)
  let sent = { text: '', key: '' }
  form.addEventListener('submit', async event => {
    event.preventDefault()
    if (going && (!live.check() || (await going.says()))) return
    const answers = going ? going.answers(live.answers()) : live.answers()
    // The same answers again are the same entry, however often a shaky line makes somebody press.
    const text = JSON.stringify([answers, live.files().map(([, f]) => [f.size, f.lastModified])])
    if (text !== sent.text) sent = { text, key: crypto.randomUUID?.() ?? `${Date.now()}-${Math.random()}` }
    const data = new FormData(form)
    const [homepage, landing] = [data.get('_homepage'), data.get('_landing')]
    const took = Date.now() - (going?.since() ?? seen)
    void send(
      form,
      point,
      live,
      {
        answers,
        edition: point.edition,
        language: point.language,
        via,
        took,
        ...(homepage && { homepage }),
        ...(landing && { landing }),
        ...going?.more(),
        ...typing(),
        ...variantOf(point),
        ...origin(),
      },
      sent.key,
      tools.visitor,
      () => {
        use.finished()
        remember(point.key, { answeredAt: Date.now() })
        going?.over()
        done?.()
      },
      going,
    )
  })
  await going?.resume(live)
}

/** Keeps what is typed, once somebody types who agreed. @returns what becomes of it when it is sent */
function watchTyping(form: HTMLFormElement, point: PublicPoint, live: LiveForm, tools: Tools): () => { unfinished?: string } {
  let keeper: Promise<Keeper> | null = null
  let ready: Keeper | null = null
  for (const kind of ['input', 'focusout'])
    form.addEventListener(kind, () => {
      if (!tools.keeps() || (!keeper && kind !== 'input')) return
      keeper ??= import('./typed.js').then(m => (ready = m.keepForm(form, point, live.answers, tools)))
      keeper.then(
        k => form.isConnected && k.typed(kind !== 'input'),
        () => {},
      )
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

interface Challenge {
  algorithm: string
  challenge: string
  salt: string
  signature: string
  maxnumber: number
}
/** Works out the sum that a form asks for while machines are at it. */
async function prove(c: Challenge): Promise<string> {
  const { solveChallenge } = await import('./proof.js')
  const solved = await solveChallenge(c.challenge, c.salt, c.algorithm, c.maxnumber).promise
  return btoa(JSON.stringify({ ...c, number: solved?.number }))
}

/** Some two minutes. */
const MOST_TRIES = 15
type Body = { answers: Answers } & Record<string, unknown>
interface Reply {
  finished?: string
  next?: { kind: string; text?: string; url?: string; name?: string; ways?: Way[]; html?: string }
  challenge?: Challenge
  detail?: string
  errors?: Flaw[]
}

async function send(
  form: HTMLFormElement,
  { words, language }: PublicPoint,
  live: LiveForm,
  body: Body,
  key: string,
  visitorOf: Tools['visitor'],
  done: () => void,
  quiz?: Going,
): Promise<void> {
  const button = form.querySelector<HTMLButtonElement>('.cv-send')!
  if (button.disabled) return
  button.disabled = true
  try {
    const visitor = visitorOf()
    const whole = { ...body, ...(visitor && { visitor }) }
    const files = live.files()
    const ask = async (more: object) => {
      const all = { ...whole, ...more }
      const answer = await fetch(form.action, {
        method: 'POST',
        headers: { 'idempotency-key': key, ...(files.length ? {} : { 'content-type': 'application/json' }) },
        body: files.length ? withFiles(all, files) : JSON.stringify(all),
      })
      // Who stands before us and cannot reach us answers in words of its own.
      if (answer.status > 501) throw answer
      return { ok: answer.ok, status: answer.status, reply: (await answer.json()) as Reply }
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
      // The room that the form needed would be a hole under a few words.
      ;((form.getRootNode() as ShadowRoot).host as HTMLElement | undefined)?.style.removeProperty('min-height')
      if (html) return quiz!.drawn(html, reply.finished)
      // On a page of its own the title is the page's heading, and stays.
      const heading = form.querySelector('h1')
      const thanks = document
        .createRange()
        .createContextualFragment(
          thanksMarkup(
            text ?? '',
            [...(url ? [{ text: name ? words.download.replace('{name}', () => name) : words.time, url }] : []), ...(ways ?? [])],
            language,
          ),
        ).firstElementChild as HTMLElement
      if (heading) thanks.prepend(heading)
      form.replaceWith(thanks)
      thanks.focus()
      return
    }
    live.mark(reply.errors ?? [], reply.detail ?? words.failed)
  } catch {
    live.mark([], words.down)
  } finally {
    button.disabled = false
  }
}
