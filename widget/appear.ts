import type { PublicDisplayRules } from '#core/appearing/definition'
import type { PublicPoint } from '#core/points/definition'
import { languageMarkup } from '#core/languages/language'
import { closedMarkup } from '#core/points/markup'
import { escapeHtml as e } from '#core/text'
import { floatMarkup, invitationMarkup, shutMarkup, STANDING } from '#core/appearing/markup'
import { draw, drawn, fetchPoint, fontsFor, shadow } from './mount.js'
import type { SiteWord, Tools } from './tools'

/** How points stand over a page: a dialog, a bar along an edge, a card in a corner; and the question whether we may remember. */

/** Shows a point as its appearance says. @returns false when there is nothing to show */
export async function appear(plain: PublicDisplayRules, tools: Tools): Promise<boolean> {
  const a = drawn(plain)
  const point = await fetchPoint(a.key, tools.base)
  if (point.closed !== undefined) return false
  if (a.placement === 'text') return stand(a.key, point, tools)
  if (a.placement === 'over') return over(point, 'over', tools)
  tools.opened(a.key)
  const { host, root } = shadow(a.key, point.drawn!, STANDING)
  const label = point.title || a.title
  root.innerHTML = invitationMarkup(a, label, point.words.close, point.language)
  const box = root.querySelector<HTMLElement>('.cv-stand')!
  let answered = false
  const shut = () => {
    host.remove()
    tools.closed(a.key, answered)
  }
  const whenShut = () => root.querySelector('.cv-shut')!.addEventListener('click', shut)
  box.addEventListener('keydown', event => event.key === 'Escape' && shut())
  root.querySelector('.cv-button')!.addEventListener('click', () => {
    if (a.placement === 'edge') {
      host.remove()
      return over(point, 'edge', tools, false)
    }
    box.innerHTML = `<div class="cv-frame">${shutMarkup(point.words.close)}<div></div></div>`
    whenShut()
    const form = draw(
      box.querySelector<HTMLElement>('.cv-frame > div')!,
      point,
      {
        via: 'script',
        placement: a.placement,
        done: () => {
          answered = true
        },
      },
      tools,
    )
    form.querySelector<HTMLElement>('input:not([type=hidden],[tabindex="-1"]),select,textarea')?.focus()
  })
  whenShut()
  document.body.append(host)
  return true
}

/** Where the page keeps places for it. */
function stand(key: string, point: PublicPoint, tools: Tools): boolean {
  const places = [...document.querySelectorAll<HTMLElement>(`[data-cavlin-place="${CSS.escape(key)}"]`)]
  for (const place of places) {
    const { host, root } = shadow(key, point.drawn!, '')
    if (point.chat) void import('./chat.js').then(m => m.standIn(root, point, tools))
    else draw(root, point, { via: 'script', placement: 'text' }, tools)
    place.replaceChildren(host)
  }
  return places.length > 0
}

/** A button of ours that opens a point whenever it is pressed. @returns takes it away; null when there is nothing to open */
export async function float(plain: PublicDisplayRules, tools: Tools): Promise<(() => void) | null> {
  const a = drawn(plain)
  const point = await fetchPoint(a.key, tools.base)
  if (point.closed !== undefined) return null
  const { host, root } = shadow(a.key, point.drawn!, STANDING)
  root.innerHTML = floatMarkup(a, point.language)
  root.querySelector('button')!.addEventListener('click', () => over(point, 'float', tools, false))
  document.body.append(host)
  return () => host.remove()
}

/** A real dialog: the browser keeps the focus inside, closes it with Escape, and gives the focus back. */
function over(point: PublicPoint, placement: string, tools: Tools, counts = true): boolean {
  if (counts) tools.opened(point.key)
  const { host, root } = shadow(point.key, point.drawn!, STANDING)
  root.innerHTML = `<dialog class="cv-over" aria-label="${e(point.title)}"><div class="cv-frame">${shutMarkup(point.words.close)}<div></div></div></dialog>`
  const dialog = root.querySelector('dialog')!
  let answered = false
  const into = dialog.querySelector<HTMLElement>('.cv-frame > div')!
  if (point.closed !== undefined) into.innerHTML = closedMarkup(point.title, point.closed, point.language)
  else
    draw(
      into,
      point,
      {
        via: 'script',
        placement,
        done: () => {
          answered = true
        },
      },
      tools,
    )
  dialog.addEventListener('close', () => {
    host.remove()
    if (point.closed === undefined) tools.closed(point.key, answered)
  })
  const shut = () => dialog.close()
  root.querySelector('.cv-shut')!.addEventListener('click', shut)
  // A click beside it closes it, but not one that only ends there, as when text is marked.
  dialog.addEventListener('pointerdown', event => event.target === dialog && isBeside(dialog, event) && shut())
  document.body.append(host)
  dialog.showModal()
  return true
}
function isBeside(dialog: HTMLElement, { clientX: x, clientY: y }: PointerEvent): boolean {
  const r = dialog.getBoundingClientRect()
  return x < r.left || x > r.right || y < r.top || y > r.bottom
}

/** Opens a point because somebody asked for it: an element of the page, or the site's own script. */
export async function openNow(key: string, tools: Tools): Promise<void> {
  const point = await fetchPoint(key, tools.base)
  if (point.chat) return (await import('./chat.js')).openChat(key, tools)
  over(point, 'button', tools, false)
}

/** Asks whether visits may be remembered. Both answers are equally easy. */
export async function askAgreement({ notice, drawn, language, words }: SiteWord, answer: (yes: boolean) => void): Promise<void> {
  await fontsFor(drawn!)
  const { host, root } = shadow('agreement', drawn!, STANDING)
  root.innerHTML = `<div class="cv-stand cv-edge end cv-ask" role="region" aria-label="${e(words!.called)}"><div class="cv" ${languageMarkup(language!)}><p>${e(notice)}</p><div class="cv-pair"><button type="button" class="cv-even">${e(words!.yes)}</button><button type="button" class="cv-even">${e(words!.no)}</button></div></div></div>`
  root.querySelectorAll('.cv-even').forEach((button, i) =>
    button.addEventListener('click', () => {
      host.remove()
      answer(i === 0)
    }),
  )
  document.body.append(host)
}
