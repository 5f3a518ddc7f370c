import type { PublicDisplayRules } from '#core/appearing/definition'
import type { PublicPoint } from '#core/points/definition'
import { filled } from '#core/chat/lines'
import { languageMarkup } from '#core/languages/language'
import { escapeHtml as e } from '#core/text'
import { CHAT_SHEET } from './chat-sheet'
import { Conversation, heldFor, type Opened } from './conversation'
import { openWindow, type Window } from './chat-window'
import { drawn, fetchPoint, shadow } from './mount'
import type { Spoken } from './trail'
import type { Tools } from './tools'

/** A chat on a page: its tab, its greeting, and its window. Fetched with the first that may show. */

type ChatPoint = PublicPoint & { chat: NonNullable<PublicPoint['chat']> }
interface Standing {
  point: ChatPoint
  side: 'start' | 'end'
  tab: HTMLButtonElement | null
  root: ShadowRoot
  host: HTMLElement
  talk: Conversation
  window: Window | null
}
const standing = new Map<string, Promise<Standing>>()

/** One chat stands once on a page, whatever opens it. */
function chatOf(key: string, side: 'start' | 'end', tools: Tools): Promise<Standing> {
  let found = standing.get(key)
  if (!found) standing.set(key, (found = make(key, side, tools)))
  found.catch(() => standing.delete(key))
  return found
}

async function make(key: string, side: 'start' | 'end', tools: Tools): Promise<Standing> {
  const point = (await fetchPoint(key, tools.base)) as ChatPoint
  if (!point.chat) throw new Error(`${key} is no chat.`)
  const { host, root } = shadow(key, point.drawn!, CHAT_SHEET)
  const talk = new Conversation(point, tools)
  const own: Standing = { point, side, tab: null, root, host, talk, window: null }
  talk.onChange(() => count(own))
  document.body.append(host)
  return own
}

/** How many lines have come that nobody read here. */
function count({ tab, talk, window, point }: Standing): void {
  if (!tab) return
  const n = window ? 0 : talk.unread()
  const badge = tab.querySelector<HTMLElement>('.cv-count')!
  badge.hidden = !n
  badge.textContent = String(n)
  const { fresh } = point.chat.words
  const word = (fresh[new Intl.PluralRules(point.language).select(n)] ?? '').replace('#', String(n))
  if (n) tab.setAttribute('aria-label', `${tab.dataset.text}: ${word}`)
  else tab.removeAttribute('aria-label')
}

/** The tab that opens a chat. @returns takes it away; null when the chat is closed */
export async function tab(plain: PublicDisplayRules, tools: Tools): Promise<(() => void) | null> {
  const a = drawn(plain)
  const own = await chatOf(a.key, a.side, tools)
  if (own.point.closed !== undefined) return null
  if (!own.tab) {
    const box = document.createElement('div')
    box.className = `cv-tab-at ${own.point.chat.place} ${a.side}`
    box.innerHTML = `<button type="button" class="cv-tab" aria-haspopup="dialog" aria-expanded="false" ${languageMarkup(own.point.language)}><span>${e(a.open)}</span><span class="cv-count" hidden></span></button>`
    own.root.append(box)
    own.tab = box.querySelector('button')!
    own.tab.dataset.text = a.open
    own.tab.addEventListener('click', () => (own.window ? shut(own) : open(own, 'tab')))
    // Who went on to another page in the midst of it finds it open.
    const held = heldFor(own.point)
    if (held) {
      own.talk.resume(held)
      if (held.open && innerWidth > 640) open(own, 'tab', false)
    }
    count(own)
  }
  return () => {
    if (!own.window) own.tab?.parentElement!.remove()
    own.tab = own.window ? own.tab : null
  }
}

/** Says something beside the tab. @param name of the person, in a browser that is shown to be theirs */
export async function greet(plain: PublicDisplayRules, tools: Tools, name: string): Promise<boolean> {
  const a = drawn(plain)
  const own = await chatOf(a.key, a.side, tools)
  if (own.point.closed !== undefined || own.window || own.talk.id) return false
  const said = filled(a.invitation, place => (/first_name$/.test(place) ? name : ''))
  if (!said.trim()) return false
  tools.opened(a.key)
  card(own, a.side, said, answered => tools.closed(a.key, answered))
  return true
}

/** Words beside the tab, that open the window or are put away. */
function card(own: Standing, side: 'start' | 'end', said: string, closed: (answered: boolean) => void): void {
  own.root.querySelector('.cv-greeting')?.remove()
  const box = document.createElement('div')
  box.className = `cv-greeting ${own.point.chat.place} ${side}`
  box.setAttribute('role', 'complementary')
  box.setAttribute('aria-label', own.point.title)
  box.innerHTML = `<div class="cv" ${languageMarkup(own.point.language)}><button type="button" class="cv-shut" aria-label="${e(own.point.words.close)}">×</button><button type="button" class="cv-greets">${e(said)}</button></div>`
  const away = (answered: boolean) => {
    box.remove()
    closed(answered)
  }
  box.querySelector('.cv-shut')!.addEventListener('click', () => away(false))
  box.addEventListener('keydown', event => event.key === 'Escape' && away(false))
  box.querySelector('.cv-greets')!.addEventListener('click', () => {
    away(true)
    open(own, 'greeting')
  })
  own.root.append(box)
}

/** One of us speaks first: their words stand beside the tab, and open the window. */
export async function spokenTo({ point: key, id, secret }: Spoken, tools: Tools): Promise<void> {
  const own = await chatOf(key, 'end', tools)
  if (own.talk.id === id) return
  own.talk.resume({ id, secret, at: Date.now(), open: false, seen: 0 })
  own.talk.keepOpen(false)
  const stop = own.talk.onChange(() => {
    const said = own.talk.lines.findLast(l => l.by === 'member')
    if (!said || own.window) return
    stop()
    card(own, 'end', `${said.name}: ${said.text}`, () => {})
  })
}

/** Opens a chat because somebody asked for it: an element of the page, or the site's own script. */
export async function openChat(key: string, tools: Tools, side: 'start' | 'end' = 'end'): Promise<void> {
  const own = await chatOf(key, side, tools)
  if (own.point.closed === undefined && !own.window) open(own, 'button')
}

/** Draws a chat in the page itself, where its tag stands. */
export function standIn(root: ShadowRoot, point: PublicPoint, tools: Tools): void {
  const talk = new Conversation(point as ChatPoint, tools)
  const held = heldFor(point as ChatPoint)
  if (held) talk.resume(held)
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(CHAT_SHEET)
  root.adoptedStyleSheets = [...root.adoptedStyleSheets, sheet]
  openWindow(root, point as ChatPoint, talk, { by: 'page', shut: null, focus: false })
}

function open(own: Standing, by: Opened, focus = true): void {
  own.root.querySelector('.cv-greeting')?.remove()
  own.window = openWindow(own.root, own.point, own.talk, { by, side: own.side, shut: () => shut(own), focus })
  own.tab?.setAttribute('aria-expanded', 'true')
  own.tab?.parentElement!.toggleAttribute('data-open', true)
  own.talk.keepOpen(true)
  count(own)
}

function shut(own: Standing): void {
  own.window?.remove()
  own.window = null
  own.talk.keepOpen(false)
  if (!own.point.chat.keep) own.talk.forget()
  own.tab?.setAttribute('aria-expanded', 'false')
  own.tab?.parentElement!.removeAttribute('data-open')
  own.tab?.focus()
  count(own)
}
