<script setup lang="ts">
import { sayIn } from '#core/languages/say'
import { floatMarkup, invitationMarkup, shutMarkup, STANDING } from '#core/appearing/markup'
import { publicPoint, type PointDefinition } from '#core/points/definition'
import { themeVariables, type Theme } from '#core/points/theme'
import { formMarkup } from '#core/points/markup'
import { pointStyle } from '#core/points/style'

/** A page of nobody's with the point on it as it stands there: what visitors see, drawn by what draws it for them. */
const props = defineProps<{
  definition: PointDefinition
  small?: boolean
  opened?: boolean
  editable?: boolean
  /** Without a page of nobody's under it. */ bare?: boolean
}>()
const emit = defineEmits<{ text: [path: string, text: string] }>()
const host = ref<HTMLElement>()
const sheet = new CSSStyleSheet()
let root: ShadowRoot | undefined

/** The frame is what `fixed` means in here. */
const OWN = (theme: Theme) =>
  `:host{${themeVariables(theme)};display:block;position:absolute;inset:0;transform:translate(0);overflow:hidden;pointer-events:none}:host(.live){pointer-events:auto}[contenteditable]{outline-offset:3px;cursor:text}[contenteditable]:hover{outline:1px dashed}[contenteditable]:focus{outline:2px solid var(--cv-accent)}span.cv-button{display:inline-block;padding-block:10px}dialog.cv-over{display:block}.veil{position:absolute;inset:0;background:rgb(20 28 28/.55)}.cv-stand{z-index:1!important}`
function draw(): void {
  if (!root) return
  // What is being typed into stays as it is.
  if ((root.activeElement as HTMLElement | null)?.isContentEditable) return
  const { display, theme, title } = props.definition
  sheet.replaceSync(`${pointStyle(theme)}${STANDING}${OWN(theme)}`)
  const form = () => formMarkup(publicPoint('preview', 0, props.definition), { action: '#' })
  if (!display.on || display.placement === 'text' || display.placement === 'button') root.innerHTML = ''
  else if (display.placement === 'over' || (props.opened && (display.placement === 'edge' || display.placement === 'float')))
    root.innerHTML = `<div class="veil"></div><dialog class="cv-over" aria-label=""><div class="cv-frame">${shutMarkup(sayIn(props.definition.language)('close'))}${form()}</div></dialog>`
  else if (props.opened)
    root.innerHTML = `<div class="cv-stand cv-corner ${display.side}"><div class="cv-frame">${shutMarkup(sayIn(props.definition.language)('close'))}${form()}</div></div>`
  else if (display.placement === 'float') root.innerHTML = floatMarkup(display, props.definition.language)
  else root.innerHTML = invitationMarkup(display, title, sayIn(props.definition.language)('close'), props.definition.language)
  root.querySelectorAll('button,input,select,textarea').forEach(e => e.setAttribute('tabindex', '-1'))
  if (props.editable) for (const [what, path, name] of EDITABLE) writable(root.querySelector<HTMLElement>(what), path, name)
}
const EDITABLE = [
  ['.cv-words', 'display.invitation', 'What the invitation says'],
  ['.cv-stand .cv-button', 'display.open', 'Text on the button that opens it'],
] as const
/** A text that is changed where it stands. A button cannot be typed into; what looks like it can. */
function writable(found: HTMLElement | null, path: string, name: string): void {
  if (!found) return
  const box = document.createElement(found.tagName === 'BUTTON' ? 'span' : found.tagName)
  box.className = found.className
  box.textContent = found.textContent
  for (const [key, value] of Object.entries({ contenteditable: 'plaintext-only', role: 'textbox', 'aria-label': name, tabindex: '0' }))
    box.setAttribute(key, value)
  box.addEventListener('input', () => emit('text', path, box.innerText.replace(/\n$/, '')))
  box.addEventListener('blur', () => void nextTick(draw))
  found.replaceWith(box)
}
onMounted(() => {
  root = host.value!.attachShadow({ mode: 'open' })
  root.adoptedStyleSheets = [sheet]
  draw()
})
watch(() => [props.definition, props.opened], draw)
const inText = computed(() => props.definition.display.on && props.definition.display.placement === 'text')
</script>

<template>
  <div class="site" :class="{ small }">
    <div v-if="!bare" class="lines" aria-hidden="true">
      <b />
      <i />
      <i />
      <i />
      <i class="short" />
      <em v-if="inText">{{ definition.title }}</em>
      <span v-else-if="definition.display.on && definition.display.placement === 'button'">Button</span>
      <i />
      <i />
      <i class="short" />
    </div>
    <div ref="host" :inert="!editable" :class="{ live: editable }" />
  </div>
</template>

<style scoped>
.site { position: relative; height: 440px; overflow: hidden; border: 1px solid var(--rule); background: #fff; }
.site:has(> :only-child) { background: none; }
.site.small { height: 290px; border: 0; }
.lines { display: grid; gap: 12px; padding: 28px max(24px, 12%); align-content: start; }
.lines b { height: 22px; width: 46%; background: #d9d4c6; margin-bottom: 6px; }
.lines i { height: 9px; background: #e9e5da; }
.lines .short { width: 62%; }
.lines em { border: 2px solid #14594f; padding: 26px 16px; font-style: normal; color: #1d2a2b; text-align: center; overflow-wrap: anywhere; }
.lines span { justify-self: start; padding: 6px 18px; background: #14594f; color: #fff; border-radius: 4px; font-size: 13px; }
</style>
