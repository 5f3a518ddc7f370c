<script setup lang="ts">
import { landingStyle, pageMarkup, pageThanks } from '#core/pages/markup'
import type { PageDefinition } from '#core/pages/definition'
import { publicPoint, type PointDefinition } from '#core/points/definition'
import { formMarkup } from '#core/points/markup'
import { pointStyle } from '#core/points/style'

/**
 * The real page, drawn by what draws it for visitors. Where `editable`, its texts are changed where
 * they stand, and its blocks are dragged where they stand. Nothing is sent from here.
 */
const props = defineProps<{
  page: PageDefinition
  frame: 'page' | 'thanks'
  form: PointDefinition | null
  editable?: boolean
  chosen?: string | null
  later?: boolean
}>()
const emit = defineEmits<{ text: [block: string, field: string, text: string]; choose: [key: string]; move: [key: string, to: number] }>()
const host = ref<HTMLElement>()
let root: ShadowRoot | undefined
let dragging: ReturnType<typeof dragInside> | undefined
const sheet = new CSSStyleSheet()
const OWN = `:host{display:block;font-family:system-ui,sans-serif;container-type:inline-size}
.stage [contenteditable]{display:inline-block;min-width:2em;padding-block:6px;margin-block:-6px;cursor:text;border-radius:2px;outline-offset:3px}
.stage [contenteditable]:hover{outline:1px dashed color-mix(in srgb,currentColor 45%,transparent)}
.stage [contenteditable]:focus{outline:2px solid var(--cv-accent)}
.stage .chosen{outline:2px solid color-mix(in srgb,var(--cv-accent) 55%,transparent);outline-offset:8px;border-radius:2px}
.stage .lp-items [contenteditable],.stage .open-answer [contenteditable]{margin-block:0}
.stage .open-answer{border-top:1px solid var(--cv-rule);padding:13px 2px 14px}.stage .open-answer p{color:var(--cv-faded);white-space:pre-line;margin:0}.stage .open-answer .open-question{color:inherit;font-weight:620;margin-bottom:6px}
.stage .blank{padding:18px;border:1px dashed var(--cv-line);color:var(--cv-faded);text-align:center;font-size:15px}
.stage .lp-footer .held-by{inset-inline-start:4px}${GRIP_STYLE}`
/** Where the page asks for the width of the window, it gets that of the frame. */
const framed = (css: string) =>
  css
    .replace(/@media \((min|max)-width:/g, '@container ($1-width:')
    .replace(/(\d)vw\b/g, '$1cqi')
    .replace(/position:sticky;top:24px/, '')

function draw(): void {
  if (!root) return
  const stage = root.querySelector('.stage')!
  const { theme } = props.page
  sheet.replaceSync(`${pointStyle(theme)}${framed(landingStyle(theme))}${OWN}`)
  const typing = root.activeElement as HTMLElement | null
  const fresh = document.createElement('div')
  fresh.innerHTML = props.frame === 'thanks' ? pageThanks(props.page) : pageMarkup(props.page, { point: drawForm })
  if (props.editable && props.frame === 'page') {
    fillBlank(fresh)
    makeEditable(fresh)
  }
  // What is being typed into keeps its place; everything around it follows once it is left.
  if (typing?.isContentEditable && stage.contains(typing)) return
  stage.replaceChildren(...fresh.childNodes)
  mark()
  dragging?.follow()
}
const drawForm = () =>
  props.form
    ? formMarkup(
        publicPoint('preview', 0, { ...props.form, theme: { ...props.page.theme, logo: null, header: null, backdrop: { kind: 'plain' } } }),
        { action: '#' },
      )
    : null

/** A block with nothing in it shows nothing to visitors; here it says what it is. */
function fillBlank(stage: Element): void {
  const NAMES: Record<string, string> = {
    point: 'The form stands here. Choose one at the side.',
    picture: 'A picture stands here. Choose one at the side.',
    text: 'Write the text at the side.',
    quote: 'Write the quote at the side.',
    snippet: 'Paste the HTML at the side.',
  }
  const blank = (key: string, text: string) => `<section class="lp-block" data-block="${key}"><div class="blank">${text}</div></section>`
  let before: Element | null = null
  for (const b of props.page.blocks) {
    const stands = stage.querySelector(`[data-block="${b.key}"]`)
    if (!stands) {
      const html = blank(b.key, NAMES[b.kind] ?? 'Nothing is written here yet.')
      if (before) before.insertAdjacentHTML('afterend', html)
      else (stage.querySelector('.lp-column') ?? stage).insertAdjacentHTML('afterbegin', html)
    }
    before = stage.querySelector(`[data-block="${b.key}"]`)
    if (before && !before.textContent?.trim() && !before.querySelector('img'))
      before.innerHTML = `<div class="blank">${NAMES[b.kind] ?? 'Nothing is written here yet.'}</div>`
  }
}
function makeEditable(stage: Element): void {
  // A link that is edited leads nowhere, and an answer that is edited stands open.
  stage.querySelectorAll('a').forEach(a => a.removeAttribute('href'))
  stage.querySelectorAll('details').forEach(details => {
    const open = document.createElement('div')
    open.className = 'open-answer'
    open.append(...details.childNodes)
    const question = document.createElement('p')
    question.className = 'open-question'
    const summary = open.querySelector('summary')!
    question.append(...summary.childNodes)
    summary.replaceWith(question)
    details.replaceWith(open)
  })
  for (const el of stage.querySelectorAll<HTMLElement>('[data-block] [data-field]')) {
    // The text alone is edited: what it stands in keeps its meaning, as a heading or a caption.
    const text = document.createElement('span')
    text.textContent = el.textContent
    text.dataset.field = el.dataset.field!
    el.removeAttribute('data-field')
    el.replaceChildren(text)
    text.setAttribute('contenteditable', 'plaintext-only')
    text.setAttribute('role', 'textbox')
    text.setAttribute('tabindex', '0')
    text.setAttribute('aria-label', NAMED[text.dataset.field!.split('.').at(-1)!] ?? 'Text')
  }
  stage.querySelectorAll<HTMLElement>('[data-block]').forEach(addGrip)
}
const NAMED: Record<string, string> = {
  text: 'Text',
  under: 'Line under it',
  title: 'Title',
  who: 'Who said it',
  caption: 'Caption',
  question: 'Question',
  answer: 'Answer',
}
function mark(): void {
  root
    ?.querySelectorAll<HTMLElement>('[data-block]')
    .forEach(b => b.classList.toggle('chosen', Boolean(props.editable) && b.dataset.block === props.chosen))
}

const blockOf = (event: Event) => (event.target as HTMLElement).closest<HTMLElement>('[data-block]')
onMounted(() => {
  root = host.value!.attachShadow({ mode: 'open' })
  root.adoptedStyleSheets = [sheet]
  root.innerHTML = '<div class="stage"></div>'
  const stage = root.querySelector<HTMLElement>('.stage')!
  stage.addEventListener('submit', event => event.preventDefault())
  stage.addEventListener('click', event => {
    if ((event.target as HTMLElement).closest('a, button, label, summary')) event.preventDefault()
  })
  stage.addEventListener('input', event => {
    const el = event.target as HTMLElement
    const block = blockOf(event)
    if (el.dataset.field && block) emit('text', block.dataset.block!, el.dataset.field, el.innerText.replace(/\n$/, ''))
  })
  stage.addEventListener('keydown', event => {
    const block = blockOf(event)
    if (
      event.key === 'Enter' &&
      (event.target as HTMLElement).dataset.field &&
      !['text', 'answer'].includes((event.target as HTMLElement).dataset.field!.split('.').at(-1)!)
    )
      event.preventDefault()
    if (!block || !event.altKey || !['ArrowUp', 'ArrowDown'].includes(event.key)) return
    event.preventDefault()
    const at = props.page.blocks.findIndex(b => b.key === block.dataset.block)
    emit('move', block.dataset.block!, at + (event.key === 'ArrowUp' ? -1 : 1))
  })
  for (const kind of ['click', 'focusin'] as const)
    stage.addEventListener(kind, event => {
      const block = blockOf(event)
      if (props.editable && block) emit('choose', block.dataset.block!)
    })
  dragging = dragInside(stage, {
    things: '[data-block]',
    nameOf: box => box.dataset.block!,
    order: () => props.page.blocks.map(b => b.key),
    drop: (key, _, to) => emit('move', key, to),
  })
  stage.addEventListener('focusout', () => setTimeout(draw))
  draw()
})
const LATER_MS = 400
let soon: ReturnType<typeof setTimeout> | undefined
onBeforeUnmount(() => {
  clearTimeout(soon)
  dragging?.end()
})
watch(
  () => [props.page, props.frame, props.form, props.editable],
  () => {
    if (!props.later) return draw()
    clearTimeout(soon)
    soon = setTimeout(draw, LATER_MS)
  },
)
watch(() => props.chosen, mark)
</script>

<template>
  <div ref="host" />
</template>
