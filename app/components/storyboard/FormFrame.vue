<script setup lang="ts">
import { sayIn } from '#core/languages/say'
import { publicPoint, type PointDefinition, type PublicPoint, type Question } from '#core/points/definition'
import { formMarkup, questionMarkup, thanksMarkup, waysIn } from '#core/points/markup'
import { possibleOf } from '#core/quiz/judge'
import { resultMarkup } from '#core/quiz/markup'
import { pointStyle } from '#core/points/style'

/**
 * The real form, drawn by what draws it for visitors. Where `editable`, its texts are changed
 * where they stand. Nothing is sent from here.
 */
const props = defineProps<{
  definition: PointDefinition
  frame: 'questions' | 'thanks'
  part?: number
  /** Of a quiz: which of its results. */ result?: string | null
  editable?: boolean
  chosen?: string | null
  /** Small and beside the point: drawn when there is time. */ later?: boolean
}>()
const emit = defineEmits<{ text: [path: string, text: string]; choose: [key: string]; move: [key: string, by: number] }>()
const host = ref<HTMLElement>()
let root: ShadowRoot | undefined
let dragging: ReturnType<typeof dragInside> | undefined
const sheet = new CSSStyleSheet()

const OWN = `:host{display:block;font-family:system-ui,sans-serif}
.stage{display:grid;justify-items:center}.stage .cv{width:100%}
.stage [contenteditable]{cursor:text;border-radius:2px;outline-offset:3px}
.stage [contenteditable]:hover{outline:1px dashed color-mix(in srgb,currentColor 45%,transparent)}
.stage [contenteditable]:focus{outline:2px solid var(--cv-accent)}
.stage [contenteditable]:empty::before{content:attr(data-empty);opacity:.62;font-weight:400;font-style:italic}
.stage [contenteditable].cv-help:empty:not(:focus){display:none}
.stage .chosen [contenteditable].cv-help:empty{display:block}
.stage .chosen{outline:2px solid color-mix(in srgb,var(--cv-accent) 55%,transparent);outline-offset:6px;border-radius:2px}
.stage .hangs{opacity:.62}
.stage .cv-optional{pointer-events:none}
.stage span.cv-button{display:inline-block;text-align:center;line-height:26px}${GRIP_STYLE}`

const shownPart = computed(() => props.part ?? 0)
/** What was drawn last: the sheet, all that is not in a question, and each question. */
let drawn = { style: '', around: '', questions: new Map<string, string>() }
function draw(): void {
  if (!root) return
  const stage = root.querySelector('.stage')!
  const style = `${pointStyle(props.definition.theme)}${OWN}`
  if (style !== drawn.style) sheet.replaceSync(style)
  const typing = root.activeElement as HTMLElement | null
  const point = publicPoint('preview', 0, props.definition)
  const next = {
    style,
    around: aroundOf(point),
    questions: new Map(point.questions.map(q => [q.key, questionMarkup(q, q.preset ?? '', undefined, point.words)])),
  }
  const inHand = typing?.isContentEditable ? typing.closest<HTMLElement>('[data-question]')?.dataset.question : undefined
  const partly = props.frame === 'questions' && next.around === drawn.around && (!typing?.isContentEditable || inHand !== undefined)
  const before = drawn.questions
  drawn = next
  // A keystroke changes one question; the others stay as they are, and so does the one that is being typed into.
  if (partly)
    return redraw(
      stage,
      [...next.questions].filter(([key, html]) => key !== inHand && before.get(key) !== html),
    )
  const fresh = document.createElement('div')
  fresh.innerHTML =
    props.frame === 'thanks'
      ? props.definition.quiz
        ? resultShown()
        : thanksMarkup(props.definition.thanks, waysIn(props.definition, sayIn(props.definition.language)), props.definition.language)
      : formMarkup(point, { action: '#' })
  fresh.querySelectorAll('.cv-page').forEach((page, n) => page.toggleAttribute('hidden', n !== shownPart.value))
  showParts(fresh)
  if (props.editable) makeEditable(fresh)
  // What is being typed into keeps its place; everything around it follows, and all is drawn anew when it is left.
  if (typing?.isContentEditable && stage.contains(typing)) follow(stage, fresh, typing)
  else stage.replaceChildren(...fresh.childNodes)
  mark()
  dragging?.follow()
}
/** A result as somebody reads it who reached it: with marks or sums that lead there. */
function resultShown(): string {
  const { quiz, questions } = props.definition
  const result = quiz!.results.find(r => r.key === props.result) ?? quiz!.results[0]
  if (!result) return '<div class="cv"><p class="cv-intro">…</p></div>'
  const possible = Math.max(
    100,
    questions.reduce((n, q) => n + (q.quiz?.contact ? 0 : possibleOf(q)), 0),
  )
  const earned = Math.ceil((possible * Math.min(100, result.from + 5)) / 10000) * 100
  const topics = quiz!.topics.map(t => ({ key: t.key, earned, possible }))
  const sums = Object.fromEntries(
    quiz!.kind === 'outcomes' ? quiz!.results.map((r, i) => [r.key, r.key === result.key ? 6 : Math.max(1, 4 - i)]) : [],
  )
  return resultMarkup(
    props.definition,
    { result: result.key, isTie: false, sums, earned: Math.min(earned, possible), possible, topics, marks: [] },
    {},
    { again: '#', share: '#' },
  )
}
const aroundOf = (p: PublicPoint) =>
  JSON.stringify([
    p.language,
    p.title,
    p.intro,
    p.button,
    p.theme.logo,
    p.theme.header,
    p.questions.map(q => [q.key, q.newPage]),
    props.frame,
    props.part,
    props.editable,
    props.definition.thanks,
    props.definition.next,
    props.definition.returns,
    p.quiz,
    props.frame === 'thanks' && [props.definition.quiz, props.result],
  ])
function redraw(stage: Element, changed: [string, string][]): void {
  for (const [key, html] of changed) {
    const template = document.createElement('template')
    template.innerHTML = html
    const box = template.content.querySelector('[data-question],[data-parameter]')!
    const q = props.definition.questions.find(o => o.key === key)
    if (props.editable && q && box.matches('[data-question]')) makeQuestionEditable(box, q)
    stage.querySelector(`[data-question="${key}"], [name="${key}"][data-parameter]`)?.replaceWith(box)
  }
  mark()
}
function follow(stage: Element, fresh: Element, typing: HTMLElement): void {
  for (const now of fresh.querySelectorAll<HTMLElement>('[data-path]')) {
    const stands = stage.querySelector(`[data-path="${now.dataset.path}"]`)
    if (!stands) continue
    // In the text in hand a line break may stand as an element; what others wrote there comes in, too.
    const text = stands === typing ? typing.innerText.replace(/\n$/, '') : stands.textContent
    if (text === now.textContent) continue
    stands.textContent = now.textContent
    if (stands !== typing) continue
    getSelection()?.selectAllChildren(typing)
    getSelection()?.collapseToEnd()
  }
}
/** With several parts, the buttons are the ones of this part. */
function showParts(stage: Element): void {
  const parts = stage.querySelectorAll('.cv-page').length
  if (!parts) return
  const last = shownPart.value >= parts - 1
  stage.querySelector('.cv-back')?.toggleAttribute('hidden', shownPart.value === 0)
  stage.querySelector('.cv-next')!.toggleAttribute('hidden', last)
  stage.querySelector('.cv-send')!.toggleAttribute('hidden', !last)
  const progress = stage.querySelector('.cv-progress')
  if (!progress) return
  progress.toggleAttribute('hidden', false)
  progress.textContent = sayIn(props.definition.language)('part', { at: shownPart.value + 1, of: parts })
}

function edit(el: Element | null | undefined, path: string, name: string, empty: string): void {
  if (!el) return
  el.setAttribute('contenteditable', 'plaintext-only')
  el.setAttribute('role', 'textbox')
  el.setAttribute('aria-label', name)
  el.setAttribute('data-path', path)
  el.setAttribute('data-empty', empty)
  el.setAttribute('tabindex', '0')
}
function makeEditable(stage: Element): void {
  const result = props.definition.quiz?.results.findIndex(r => r.key === props.result) ?? -1
  if (props.frame === 'thanks' && props.definition.quiz) {
    const heading = stage.querySelector('.cv-title')
    const title = document.createElement('span')
    title.textContent = heading?.textContent ?? ''
    heading?.replaceChildren(title)
    if (result >= 0) edit(title, `quiz.${result}.title`, 'Title of the result', 'What are they?')
    return
  }
  if (props.frame === 'thanks') return edit(stage.querySelector('.cv-thanks p'), 'thanks', 'Thank-you message', 'What happens next?')
  const form = stage.querySelector('form')!
  if (!form.querySelector('.cv-title')) form.insertAdjacentHTML('afterbegin', '<h2 class="cv-title"></h2>')
  if (!form.querySelector('.cv-intro')) form.querySelector('.cv-title')!.insertAdjacentHTML('afterend', '<p class="cv-intro"></p>')
  const title = document.createElement('span')
  title.textContent = props.definition.title
  form.querySelector('.cv-title')!.replaceChildren(title)
  // A text to change inside a button would be two things to press at one place.
  const button = document.createElement('span')
  button.className = 'cv-button cv-send'
  button.textContent = props.definition.button
  button.hidden = form.querySelector<HTMLElement>('.cv-send')!.hidden
  form.querySelector('.cv-send')!.replaceWith(button)
  edit(title, 'title', 'Title', 'What do people get for filling it in?')
  edit(form.querySelector('.cv-intro'), 'intro', 'Sentence under the title', 'A sentence under it, if you like')
  edit(button, 'button', 'Text on the button', 'Button')
  for (const q of props.definition.questions) {
    const box = form.querySelector(`[data-question="${q.key}"]`)
    if (box) makeQuestionEditable(box, q)
  }
}
function makeQuestionEditable(box: Element, q: Question): void {
  const label = box.querySelector('.cv-choice > span, legend, label')!
  const words = q.kind === 'consent' ? box.querySelector('.cv-choice > span') : label
  // The text alone is edited, not the “(optional)” behind it.
  if (words && q.kind !== 'consent') {
    const optional = words.querySelector('.cv-optional')
    const text = document.createElement('span')
    text.textContent = q.label
    words.replaceChildren(text, ...(optional ? [' ', optional] : []))
    edit(text, `questions.${q.key}.label`, 'Question', 'What do you ask?')
  } else edit(words, `questions.${q.key}.label`, 'Words to agree to', 'What do people agree to?')
  if (!box.querySelector('.cv-help')) box.querySelector('.cv-flaw')!.insertAdjacentHTML('beforebegin', '<p class="cv-help"></p>')
  edit(box.querySelector('.cv-help'), `questions.${q.key}.help`, 'Help under the question', 'Help under it, if you like')
  if (q.kind === 'one_of' || q.kind === 'some_of')
    box
      .querySelectorAll('.cv-choice > span')
      .forEach((span, n) => edit(span, `questions.${q.key}.choices.${n}`, `Choice ${n + 1}`, 'A choice'))
  addGrip(box as HTMLElement)
}

function mark(): void {
  root?.querySelectorAll('[data-question]').forEach(box => {
    const q = props.definition.questions.find(o => o.key === (box as HTMLElement).dataset.question)
    box.classList.toggle('chosen', Boolean(props.editable) && q?.key === props.chosen)
    box.classList.toggle('hangs', Boolean(props.editable) && Boolean(q?.shownIf))
  })
}

const pathOf = (event: Event) => (event.target as HTMLElement).dataset?.path
onMounted(() => {
  root = host.value!.attachShadow({ mode: 'open' })
  root.adoptedStyleSheets = [sheet]
  root.innerHTML = '<div class="stage"></div>'
  const stage = root.querySelector<HTMLElement>('.stage')!
  stage.addEventListener('submit', event => event.preventDefault())
  stage.addEventListener('input', event => {
    const path = pathOf(event)
    if (path) emit('text', path, (event.target as HTMLElement).innerText.replace(/\n$/, ''))
  })
  stage.addEventListener('keydown', e => {
    const event = e as KeyboardEvent
    const path = pathOf(event)
    if (!path) return
    const many = ['intro', 'thanks'].includes(path)
    if (event.key === 'Enter' && !many) event.preventDefault()
    const key = /^questions\.([^.]+)/.exec(path)?.[1]
    if (key && event.altKey && ['ArrowUp', 'ArrowDown'].includes(event.key)) {
      event.preventDefault()
      emit('move', key, event.key === 'ArrowUp' ? -1 : 1)
    }
  })
  // A click on a label or button edits its text; it chooses no answer and sends nothing.
  stage.addEventListener('click', event => {
    if (props.editable && (event.target as HTMLElement).closest('a, label, button, legend')) event.preventDefault()
  })
  for (const kind of ['click', 'focusin'] as const)
    stage.addEventListener(kind, event => {
      const box = (event.target as HTMLElement).closest<HTMLElement>('[data-question]')
      if (props.editable && box) emit('choose', box.dataset.question!)
    })
  dragging = dragInside(stage, {
    things: '[data-question]',
    nameOf: box => box.dataset.question!,
    order: () => props.definition.questions.map(q => q.key),
    drop: (key, from, to) => emit('move', key, to - from),
  })
  stage.addEventListener('focusout', () =>
    setTimeout(() => {
      drawn.around = ''
      draw()
    }),
  )
  draw()
})
/** A small picture may lag a little behind what is typed. */
const LATER_MS = 400
let soon: ReturnType<typeof setTimeout> | undefined
onBeforeUnmount(() => {
  clearTimeout(soon)
  dragging?.end()
})
watch(
  () => [props.definition, props.frame, props.part, props.editable, props.result],
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
