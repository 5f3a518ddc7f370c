import { problemText } from '#core/points/refusals'
import { pagesOf, type Answer, type Answers, type PointDefinition, type PublicPoint, type PublicQuestion } from '#core/points/definition'
import type { Flaw } from '#core/flaws'
import { languageMarkup, type Language } from '#core/languages/language'
import type { PointWords } from '#core/languages/point-words'
import type { Say } from '#core/languages/say'
import type { Mark } from '#core/points/theme'
import { pictureMarkup } from '#core/points/pictures'
import { HEADER_MOST } from '#core/points/sheet'
import { escapeHtml as e } from '#core/text'

export interface MarkupOptions {
  /** Where the form is posted to without JavaScript. */
  action: string
  /** What goes along unseen: the idempotency key, the page. */
  hidden?: Record<string, string>
  /** Where pictures come from, when not from here. */
  base?: string
  values?: Answers
  flaws?: Flaw[]
  /** Of a form that is asked part by part without a script: which part it is, whether it is the last, what leads on from it, and whether it can be passed over. */
  step?: { at: number; isLast: boolean; acts: string; skips?: boolean }
}

/** Above this many choices a one-of question is a list to open instead of radio buttons. */
const RADIOS = 6

/**
 * A form as HTML: the same in the editor's preview, on its own page and in a
 * customer's page. Complete and accessible without any script; with one, its
 * pages are shown one at a time and questions as their conditions say.
 */
export function formMarkup(point: PublicPoint, options: MarkupOptions): string {
  const flaws = new Map((options.flaws ?? []).map(f => [f.field.replace(/^answers\./, ''), f.message]))
  const { words } = point
  const { step } = options
  const question = (q: PublicQuestion) =>
    questionMarkup(q, options.values?.[q.key] ?? q.preset ?? '', flaws.get(q.key), words, options.base)
  const pages = pagesOf(point.questions)
  return (
    `<form class="cv" ${languageMarkup(point.language)} method="post" action="${e(options.action)}"${point.questions.some(q => q.kind === 'file') ? ' enctype="multipart/form-data"' : ''} novalidate>` +
    headerMarkup(point.theme.header, options.base) +
    logoMarkup(point.theme.logo, options.base) +
    (point.title ? `<h2 class="cv-title">${e(point.title)}</h2>` : '') +
    (point.intro ? `<p class="cv-intro">${e(point.intro)}</p>` : '') +
    `<p class="cv-problem" role="alert">${e(problemText(options.flaws ?? [], point.questions, words.look))}</p>` +
    (pages.length > 1
      ? `${point.quiz?.noProgress ? '' : '<p class="cv-progress" hidden></p>'}${pages.map((page, n) => `<div class="cv-page"${step && n !== step.at ? ' hidden' : ''}>${page.map(question).join('')}</div>`).join('')}`
      : point.questions.map(question).join('')) +
    Object.entries(options.hidden ?? {})
      .map(([k, v]) => `<input type="hidden" name="${e(k)}" value="${e(v)}">`)
      .join('') +
    // People do not see it and leave it empty; what fills in everything gives itself away.
    `<div class="cv-unseen" aria-hidden="true"><label>${e(words.empty)}<input name="_homepage" tabindex="-1" autocomplete="off"></label></div>` +
    '<div class="cv-acts">' +
    (step?.acts ?? '') +
    (pages.length > 1
      ? `${point.quiz?.noBack ? '' : `<button type="button" class="cv-back" hidden>${e(words.back)}</button>`}<button type="button" class="cv-button cv-next" hidden>${e(words.next)}</button>`
      : '') +
    `<button type="submit" class="cv-button cv-send"${step && !step.isLast ? ' hidden' : ''}>${e(point.button)}</button>` +
    (point.quiz?.skip
      ? `<button type="submit" class="cv-back cv-skip" name="_to" value="skip"${step && step.skips ? '' : ' hidden'}>${e(point.quiz.skip)}</button>`
      : '') +
    '</div></form>'
  )
}

const headerMarkup = (header: Mark | null | undefined, base = '') =>
  header ? `<div class="cv-header">${pictureMarkup(header, '(min-width:48rem) 46rem,100vw', 960, base)}</div>` : ''
const logoMarkup = (logo: Mark | null, base = '') => (logo ? `<p class="cv-logo">${pictureMarkup(logo, '240px', 320, base)}</p>` : '')

/** A way on that is offered with the thanks: a file, a choice of times, coming again. */
export interface Way {
  text: string
  url: string
  small?: boolean
}

/** What stands in the form's place once it is sent. */
export function thanksMarkup(text: string, ways: Way[] = [], language: Language = 'en'): string {
  return `<div class="cv cv-thanks" ${languageMarkup(language)} role="status" tabindex="-1"><p>${e(text)}</p>${ways.map(w => `<p${w.small ? ' class="cv-small"' : ''}><a class="cv-way" href="${e(w.url)}">${e(w.text)}</a></p>`).join('')}</div>`
}

/** The ways that the thanks offer, as a preview shows them: they lead nowhere. */
export function waysIn({ next, returns }: Pick<PointDefinition, 'next' | 'returns'>, say: Say): Way[] {
  return [
    ...(next.kind === 'file' && next.file ? [{ text: say('download', { name: next.file.name }), url: '#' }] : []),
    ...(next.kind === 'meeting' ? [{ text: say('chooseTime'), url: '#' }] : []),
    ...(returns.correct ? [{ text: say('correct'), url: '#', small: true }] : []),
    ...(returns.again ? [{ text: say('enterAgain'), url: '#', small: true }] : []),
  ]
}

/** What stands in the form's place while it takes no entries. */
export function closedMarkup(title: string, text: string, language: Language): string {
  return `<div class="cv" ${languageMarkup(language)}>${title ? `<h2 class="cv-title">${e(title)}</h2>` : ''}<p class="cv-intro">${e(text)}</p></div>`
}

/** Text in which `[words](https://…)` is a link, as in Markdown: in consent words and under questions. */
const linked = (text: string): string =>
  e(text).replace(/\[([^[\]]+)\]\((https?:\/\/[^\s()]+)\)/g, '<a href="$2" target="_blank" rel="noopener">$1</a>')

/** One question as HTML, as it stands in the form. */
export function questionMarkup(q: PublicQuestion, value: Answer, flaw: string | undefined, words: PointWords, base = ''): string {
  if (q.parameter)
    return `<input type="hidden" name="${e(q.key)}" value="${e([value].flat().join(','))}" data-parameter="${e(q.parameter)}">`
  const id = `cv-${q.key}`
  const notes = `${q.help ? `<p class="cv-help" id="${id}-help">${linked(q.help)}</p>` : ''}<p class="cv-flaw" id="${id}-flaw">${e(flaw ?? '')}</p>`
  const described = `aria-describedby="${q.help ? `${id}-help ` : ''}${id}-flaw"${flaw ? ' aria-invalid="true"' : ''}`
  const required = q.required ? ' required' : ''
  const open = `class="cv-question" data-question="${e(q.key)}"`
  const above = q.above ? `<p class="cv-intro">${e(q.above)}</p>` : ''
  if (q.kind === 'consent')
    return `${above}<div ${open}><label class="cv-choice"><input type="checkbox" name="${e(q.key)}" value="yes" ${described}${required}${value === 'yes' ? ' checked' : ''}><span>${linked(q.label)}</span></label>${notes}</div>`
  const label = `${e(q.label)}${q.required ? '' : ` <span class="cv-optional">${e(words.optional)}</span>`}`
  const ticks = q.kind === 'some_of'
  if (ticks || q.kind === 'yes_no' || (q.kind === 'one_of' && (q.as || q.choices!.length <= RADIOS))) {
    const chosen = [value].flat()
    const boxes = q.choices!.map(
      c =>
        `<label class="cv-choice"><input type="${ticks ? 'checkbox' : 'radio'}" name="${e(q.key)}" value="${e(c.value)}"${ticks ? '' : required}${chosen.includes(c.value) ? ' checked' : ''}>${q.as === 'pictures' && c.picture ? pictureMarkup({ ...c.picture, alt: '' }, '220px', 240, base) : ''}<span>${e(c.text)}</span></label>`,
    )
    const choices = q.as ? `<div class="cv-${q.as}">${boxes.join('')}</div>` : boxes.join('')
    return `${above}<fieldset ${open} ${described}><legend>${label}</legend>${choices}${notes}</fieldset>`
  }
  return `${above}<div ${open}><label for="${id}">${label}</label>${field(q, id, [value].flat().join(', '), `${described}${required}`, words)}${notes}</div>`
}

/** What a phone's keyboard shows, and what browsers check and offer. */
const INPUTS: Partial<Record<PublicQuestion['kind'], string>> = {
  email: 'type="email" inputmode="email"',
  phone: 'type="tel" inputmode="tel"',
  url: 'type="text" inputmode="url"',
  number: 'type="text" inputmode="decimal"',
  money: 'type="text" inputmode="decimal"',
  date: 'type="date"',
}

function field(q: PublicQuestion, id: string, value: string, rest: string, words: PointWords): string {
  const fill = q.autocomplete ? ` autocomplete="${q.autocomplete}"` : ''
  const common = `id="${id}" name="${e(q.key)}"${fill}${q.placeholder ? ` placeholder="${e(q.placeholder)}"` : ''} ${rest}`
  if (q.choices) {
    const options = q.choices.map(c => `<option value="${e(c.value)}"${c.value === value ? ' selected' : ''}>${e(c.text)}</option>`)
    return `<select ${common}><option value="">${e(words.choose)}</option>${options.join('')}</select>`
  }
  if (q.kind === 'file')
    return `<input type="file" ${common} accept="${(q.files?.endings ?? []).map(x => `.${x}`).join(',')}"${Number(q.limits?.most ?? 1) > 1 ? ' multiple' : ''}>`
  // A newline directly after <textarea> is dropped by the parser, so one is put there to be dropped.
  if (q.kind === 'long_text') return `<textarea ${common} rows="4">\n${e(value)}</textarea>`
  const days = q.kind === 'date' ? `${bound('min', q.limits?.least)}${bound('max', q.limits?.most)}` : ''
  return `<input ${INPUTS[q.kind] ?? 'type="text"'} ${common}${days} value="${e(value)}">`
}

const bound = (name: string, limit: number | string | null | undefined) => (limit == null ? '' : ` ${name}="${e(String(limit))}"`)

/**
 * The height in CSS pixels that a form takes in its place, so that a page can
 * keep room before the script arrives and nothing jumps. An upper estimate for
 * columns of 320 px and more, from the measures in `style.ts`.
 */
export function reservedHeight(point: PublicPoint): number {
  const lines = (text: string, letters: number) =>
    text ? text.split('\n').reduce((n, l) => n + Math.max(1, Math.ceil(l.length / letters)), 0) : 0
  const heightOf = (q: PublicQuestion) => {
    // What a condition or the page decides takes its room when it shows.
    if (q.shownIf || q.parameter) return 0
    if (q.kind === 'consent') return 16 + lines(q.label, 32) * 24 + lines(q.help ?? '', 38) * 22 + 22
    const head = lines(`${q.label}${q.required ? '' : ` ${point.words.optional}`}`, 32) * 24 + lines(q.help ?? '', 38) * 22
    if (q.choices && (q.kind !== 'one_of' || q.choices.length <= RADIOS) && q.kind !== 'country')
      return head + q.choices.reduce((n, c) => n + 16 + lines(c.text, 30) * 24, 0) + 22
    return head + (q.kind === 'long_text' ? 122 : 46) + 22
  }
  const pages = pagesOf(point.questions).map(page => page.reduce((sum, q) => sum + heightOf(q), 0))
  const { header, width } = point.theme
  // The columns of the theme in pixels, and no more than `style.ts` lets it have.
  const over = header
    ? Math.min(HEADER_MOST, Math.ceil(({ narrow: 416, medium: 544, wide: 736 }[width] * header.height) / header.width)) + 20
    : 0
  return (
    48 +
    over +
    (point.theme.logo ? 84 : 0) +
    lines(point.title, 20) * 32 +
    10 +
    lines(point.intro, 36) * 24 +
    12 +
    (pages.length > 1 ? 34 : 0) +
    Math.max(0, ...pages) +
    64
  )
}
