import { randomInt, randomUUID } from 'node:crypto'
import { getQuery, setResponseHeaders, type H3Event } from 'h3'
import type { Flaw } from '#core/flaws'
import type { BlockOf, PageDefinition } from '#core/pages/definition'
import { landingStyle, pageMarkup, pageThanks } from '#core/pages/markup'
import { holds } from '#core/conditions/condition'
import { inOwnOrder } from '#core/quiz/shuffle'
import { pageBeside } from '#core/quiz/way'
import { pagesOf, publicPoint, type Answers, type PointDefinition, type PublicPoint, type PublicQuestion } from '#core/points/definition'
import { languageMarkup, type Language } from '#core/languages/language'
import { closedMarkup, formMarkup, thanksMarkup, type Way } from '#core/points/markup'
import { fontFaces, fontFiles, HOUSE_THEME, mix, type Theme } from '#core/points/theme'
import { assetPath } from '#core/points/next'
import { sharedMarkup } from '#core/quiz/markup'
import type { Result } from '#core/quiz/shapes'
import { sharedPath } from '#server/capture/next'
import { SHARED_SIZE } from '#core/quiz/limits'
import { pointStyle } from '#core/points/style'
import { cut, escapeHtml as e, oneLine } from '#core/text'
import { hostedPolicy, newNonce, snippetPolicy } from '#server/front/headers'
import type { Page, Point } from '#db/points'
import { baseOf } from '#server/hosts'
import { languageOf } from '#server/words'
import { sayIn } from '#core/languages/say'

const cardStyle = (theme: Theme) => `${pointStyle(theme)}
html{background:${mix(theme.sheet, theme.ink, 0.05)};color:${theme.ink};font-family:system-ui,sans-serif}
body{margin:0;min-height:100vh;display:grid;place-content:start center;padding:6vh 16px}
main{width:min(46rem,calc(100vw - 32px));display:grid}main>.cv{width:100%;justify-self:center}main>.above{margin-bottom:12px}main>.above p{margin:0}
.unseen{position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%)}`
const IN_FRAME = 'html{background:none}body{padding:0;place-content:start stretch}main{width:100%}'
const wideStyle = (theme: Theme) =>
  `${pointStyle(theme)}${landingStyle(theme)}html{background:${theme.sheet};font-family:system-ui,sans-serif}body{margin:0}main{min-height:100vh;display:grid}`

/** What a form that comes back brings along: what was typed, what is wrong with it, and when it was shown first (ms since 1970, as it says). */
export interface Again {
  values?: Answers
  flaws?: Flaw[]
  shown?: string
  quiz?: QuizStep
}

/** Where somebody is in a quiz that is asked part by part without a script. */
export interface QuizStep {
  /** Which part, and that nothing comes behind it for who answers so. */
  at?: number
  isLast?: boolean
  /** Of the order it is asked in. */
  seed?: number
  skipped?: boolean
  /** What is said of the part before. */
  said?: string
  /** What somebody nameless came to, below which it is asked who they are. */
  came?: { id: string; html: string }
}

/** What is known of a visitor who came by a personal link: answers to begin with. */
export interface Personal {
  presets: Answers
}

/** Searches show no more of it. */
const MOST_DESCRIBED = 160

/** A point on a page of its own. Complete without any script. */
export function hostedForm(event: H3Event, point: Point, again: Again = {}, personal: Personal | null = null): string {
  const { definition } = point.live!
  return page(
    event,
    titled(definition.title || point.name, definition.language, again),
    drawnForm(event, point, again, framed(event) ? 'frame' : 'page', null, personal),
    definition.theme,
    {
      ...sendingOf(event, point),
      language: definition.language,
      description: cut(oneLine(definition.intro || definition.title || point.name, 1000), MOST_DESCRIBED),
    },
  )
}

/** A form with what it sends along, and what a script makes of it: it sends without leaving the page, and asks page by page. */
function drawnForm(event: H3Event, point: Point, again: Again, via: string, landing: Page | null, personal: Personal | null): string {
  const { definition, number } = point.live!
  if (definition.chat) return drawnChat(point, landing)
  const plain = byAddress(
    publicPoint(point.key, number, landing ? inPage(definition, landing.live!.definition) : definition, sayIn(definition.language)),
    getQuery(event),
  )
  const shown = personal ? withPresets(plain, personal.presets) : plain
  const { shown: first, quiz = {}, ...back } = again
  const seed = shown.quiz?.shuffle && (quiz.seed ?? randomInt(1, 0x7fffffff))
  const drawn = seed ? inOwnOrder(shown, seed) : shown
  const form = formMarkup(
    quiz.came ? { ...drawn, title: '', intro: '', button: drawn.quiz!.after!, theme: { ...drawn.theme, header: null, logo: null } } : drawn,
    {
      action: `/w/points/${point.key}/entries`,
      ...back,
      step: stepOf(drawn, back, quiz),
      hidden: {
        _key: randomUUID(),
        _edition: String(number),
        _shown: first ?? String(Date.now()),
        _via: via,
        _language: shown.language,
        ...(landing && { _landing: landing.slug }),
        ...(seed && { _seed: String(seed) }),
        ...(quiz.skipped && { _skipped: '1' }),
        ...(quiz.came && { _finished: quiz.came.id }),
      },
    },
  )
  const said = quiz.said
    ? `<div class="cv cv-thanks cv-said" role="status"><p><b>${e(sayIn(definition.language)('saidOfLast'))}</b></p>${quiz.said}</div>`
    : ''
  return `${quiz.came?.html ?? said}${form}<script type="application/json" id="cavlin-point">${JSON.stringify({ ...shown, ...(seed && { seed }) }).replace(/</g, '\\u003c')}</script>${landing ? '' : ownScript()}`
}

/** A chat in a page of ours. Its script draws it; without one it can only say so. */
function drawnChat(point: Point, landing: Page | null): string {
  const { title, intro, language } = point.live!.definition
  const above = landing
    ? ''
    : `<h1 class="unseen">${e(title)}</h1>${intro ? `<div class="cv above"><p class="cv-intro">${e(intro)}</p></div>` : ''}`
  return `${above}<script async src="/w/cavlin.js" data-point="${e(point.key)}"${landing ? '' : ' data-own="page"'}></script><noscript><p>${e(sayIn(language)('chatScript'))}</p></noscript>`
}

/** A quiz is asked part by part also without a script: which part is shown, with what is wrong or where one was led, and what leads on. */
function stepOf(
  { quiz, questions, words }: PublicPoint,
  { values = {}, flaws = [] }: Again,
  { at: wished, isLast: ends = false, came, skipped }: QuizStep,
) {
  const pages = pagesOf(questions)
  if (!quiz || pages.length < 2) return undefined
  const isOut = (q: PublicQuestion) => Boolean(q.quiz?.contact) && (skipped === true || (quiz.after !== undefined && !came))
  const wrong = pages.findIndex(page => page.some(q => flaws.some(f => f.field === `answers.${q.key}`)))
  const at = wished ?? (wrong >= 0 ? wrong : (pageBeside(pages, -1, 1, values, holds, isOut) ?? 0))
  // Whether something is asked behind a part may hang on what is answered in it: that is looked at when it is sent.
  const isLast = ends || !pages.slice(at + 1).some(page => page.some(q => !isOut(q)))
  const isFirst = came !== undefined || pageBeside(pages, at, -1, values, holds, isOut) === null
  // Enter sends by the first button in the form, so that one leads on.
  const acts =
    `<input type="hidden" name="_at" value="${at}">` +
    (isLast ? '' : `<button type="submit" class="cv-button cv-step" name="_to" value="next">${e(words.next)}</button>`) +
    (isFirst || quiz.noBack ? '' : `<button type="submit" class="cv-back cv-step" name="_to" value="back">${e(words.back)}</button>`)
  return { at, isLast, acts, skips: pages[at]!.some(q => q.quiz?.contact) }
}

/** What brings a page of ours to life, and counts the looks at it. */
const ownScript = (landing?: Page): string =>
  `<script defer src="/w/cavlin.js" data-own="page"${landing ? ` data-landing="${e(landing.slug)}"` : ''}></script>`

/** On a landing page a form takes over the page's theme; the logo stands there already. */
const inPage = (definition: PointDefinition, { theme }: PageDefinition): PointDefinition => ({
  ...definition,
  theme: { ...theme, logo: null, header: null, backdrop: { kind: 'plain' } },
})

/** A landing page, with the form that stands on it or what stands in its place. */
export function hostedPage(
  event: H3Event,
  landing: Page,
  point: Point | null,
  closed: string | null,
  again: Again = {},
  personal: Personal | null = null,
): string {
  const { definition } = landing.live!
  const frames = definition.blocks.some(b => b.kind === 'snippet')
  const inPlace = () =>
    !point?.live
      ? `<div class="cv"><p class="cv-intro">${e(sayIn(definition.language)('notOpen'))}</p></div>`
      : closed !== null
        ? closedMarkup(point.live.definition.title, closed, point.live.definition.language)
        : drawnForm(event, point, again, 'page', landing, personal)
  return whole(
    event,
    titled(definition.title, definition.language, again),
    pageMarkup(definition, { point: inPlace, snippets: `/p/${landing.slug}/snippets/` }) +
      ownScript(landing) +
      (frames ? '<script defer src="/w/snippets.js"></script>' : ''),
    wideStyle(definition.theme),
    definition.theme,
    openGraph(
      `${baseOf(landing)}/p/${landing.slug}`,
      definition,
      definition.share && { ...definition.share, url: `${baseOf(landing)}${assetPath(definition.share.file)}` },
    ),
    { leadsTo: point ? leadsTo(point) : [], frames, language: definition.language },
  )
}

/** The title of a page; of one that came back, that it did. */
const titled = (title: string, language: Language, again: Again) => (again.flaws?.length ? sayIn(language)('check', { title }) : title)

interface SharedPicture {
  url: string
  width: number
  height: number
  alt: string
}
/** What search and shared links show of a page (Open Graph protocol). */
function openGraph(
  here: string,
  { title, description }: Pick<PageDefinition, 'title' | 'description'>,
  picture: SharedPicture | null,
): string {
  const meta = (name: string, content: string, kind = 'property') => `<meta ${kind}="${name}" content="${e(content)}">`
  return [
    description && meta('description', description, 'name'),
    meta('og:type', 'website'),
    meta('og:title', title),
    description && meta('og:description', description),
    meta('og:url', here),
    picture &&
      [
        meta('og:image', picture.url),
        meta('og:image:width', String(picture.width)),
        meta('og:image:height', String(picture.height)),
        picture.alt && meta('og:image:alt', picture.alt),
      ]
        .filter(Boolean)
        .join(''),
    `<link rel="canonical" href="${e(here)}">`,
  ]
    .filter(Boolean)
    .join('')
}

/** What stands there after an entry without a script, and on a thank-you page of its own. */
export function hostedThanks(event: H3Event, { live }: Point, ways: Way[]): string {
  const { definition } = live!
  return page(
    event,
    sayIn(definition.language)('thanksTitle'),
    thanksMarkup(definition.thanks, ways, definition.language).replace('<p>', () => `<h2 class="cv-title">${e(definition.title)}</h2><p>`),
    definition.theme,
    { language: definition.language },
  )
}
/** What a quiz came to, on a page of its own. */
export function hostedResult(event: H3Event, definition: PointDefinition, markup: string): string {
  return page(event, sayIn(definition.language)('yourResult'), markup, definition.theme, { language: definition.language })
}
/** A result as it is shown to others. */
export function hostedShared(event: H3Event, point: Point, result: Result): string {
  const { definition } = point.live!
  const base = baseOf(point)
  const here = `${base}${sharedPath(definition, point.slug, result.key)}`
  const picture = { url: here.replace(/(\?|$)/, '/picture$1'), ...SHARED_SIZE, alt: result.title }
  const about = { title: result.title, description: cut(oneLine(definition.title || point.name, 1000), MOST_DESCRIBED) }
  return page(event, result.title, sharedMarkup(definition, result, `${base}/p/${point.slug}`), definition.theme, {
    language: definition.language,
    head: openGraph(here, about, picture),
  })
}
export function hostedPageThanks(event: H3Event, landing: Page, ways: Way[]): string {
  const { definition } = landing.live!
  const links = ways.map(w => `<p><a href="${e(w.url)}">${e(w.text)}</a></p>`).join('')
  return whole(
    event,
    definition.thanks.title,
    pageThanks(definition).replace('</div></div>', () => `${links}</div></div>`),
    wideStyle(definition.theme),
    definition.theme,
    '<meta name="robots" content="noindex">',
    { language: definition.language },
  )
}

/** What stands there while the point takes no entries. */
export const hostedClosed = (event: H3Event, point: Point, text: string): string =>
  page(
    event,
    point.live!.definition.title || point.name,
    closedMarkup(point.live!.definition.title || point.name, text, point.live!.definition.language),
    point.live!.definition.theme,
    { ...sendingOf(event, point), language: point.live!.definition.language },
  )

/** For an address without a live point. */
export const hostedNothing = (event: H3Event): string => {
  const language = languageOf(event)
  const say = sayIn(language)
  const body = `<div class="cv"><h1 class="cv-title">${e(say('nothingTitle'))}</h1><p>${e(say('nothing'))}</p></div>`
  return page(event, say('nothingTitle'), body, HOUSE_THEME, { language })
}

/** A form in a frame stands on the sites that may send it; where nobody said which, on any. */
const sendingOf = (event: H3Event, point: Point): Ruleset => {
  const { origins } = point.live!.definition.guards
  return { inFrame: framed(event), framedBy: framed(event) ? (origins.length ? origins : ['*']) : [], leadsTo: leadsTo(point) }
}
const leadsTo = ({ live }: Point): string[] => (live?.definition.next.kind === 'address' ? [live.definition.next.address] : [])

/** Whether the page stands in a frame on somebody else's. */
const framed = (event: H3Event) => getQuery(event).frame === '1'

/** Questions that the page's address answers, answered. */
function byAddress(point: PublicPoint, query: Record<string, unknown>): PublicPoint {
  return {
    ...point,
    questions: point.questions.map(q =>
      q.parameter && typeof query[q.parameter] === 'string' ? { ...q, preset: (query[q.parameter] as string).slice(0, 4000) } : q,
    ),
  }
}

/** Questions with what is known of the person standing in them. */
export function withPresets(point: PublicPoint, presets: Answers): PublicPoint {
  return {
    ...point,
    questions: point.questions.map(q => (presets[q.key] !== undefined && !q.parameter ? { ...q, preset: presets[q.key] } : q)),
  }
}

/** How a page stands in the world, beside what it shows. */
export interface Ruleset {
  inFrame?: boolean
  framedBy?: string[]
  /** Where its form leads on to, on other sites. */
  leadsTo?: string[]
  /** Rules of its own. */
  style?: string
  /** What it is, for those who search; or all that its head says of it. */
  description?: string
  head?: string
  /** It has frames of foreign code. */
  frames?: boolean
  /** The language it is in. */
  language?: Language
}

/** A page for visitors in a theme: one card on a quiet ground. Its first title is the page's only heading. */
export function page(event: H3Event, title: string, content: string, theme: Theme = HOUSE_THEME, ruleset: Ruleset = {}): string {
  return whole(
    event,
    title,
    content.replace('<h2 class="cv-title">', '<h1 class="cv-title">').replace('</h2>', '</h1>'),
    `${cardStyle(theme)}${ruleset.inFrame ? IN_FRAME : ''}${ruleset.style ?? ''}`,
    theme,
    ruleset.head ?? (ruleset.description ? `<meta name="description" content="${e(ruleset.description)}">` : ''),
    ruleset,
  )
}

/** The font comes before anything is drawn in another, or not at all: nothing moves because of it. */
const fontLink = (theme: Theme): string => {
  const latin = fontFiles(theme).find(f => f.letters.startsWith('U+0000'))
  return latin ? `<link rel="preload" as="font" type="font/woff2" href="${e(latin.url)}" crossorigin>` : ''
}

/** A whole page; it loads nothing from elsewhere. */
function whole(
  event: H3Event,
  title: string,
  body: string,
  style: string,
  theme: Theme,
  head: string,
  { framedBy, leadsTo, frames, language = 'en' }: Ruleset = {},
): string {
  const nonce = newNonce()
  setResponseHeaders(event, {
    'content-type': 'text/html; charset=utf-8',
    'cache-control': 'no-store',
    'content-security-policy': hostedPolicy({ nonce, framedBy, leadsTo, frames }),
  })
  return `<!doctype html><html ${languageMarkup(language)}><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${e(title)}</title>${fontLink(theme)}${head}<style nonce="${nonce}">${fontFaces(theme, '', 'optional')}${style}</style></head><body><main>${body}</main></body></html>`
}

/** Foreign code as a document of its own, which says how tall it is. Its policy makes it a site of its own. */
export function hostedSnippet(event: H3Event, { html, title }: BlockOf<'snippet'>, language: Language): string {
  setResponseHeaders(event, {
    'content-type': 'text/html; charset=utf-8',
    'cache-control': 'no-cache',
    'content-security-policy': snippetPolicy(),
    'referrer-policy': 'origin',
  })
  return `<!doctype html><html ${languageMarkup(language)}><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex"><title>${e(title)}</title><base target="_blank"><style>body{margin:0}</style></head><body>${html}${TELL_HEIGHT}</body></html>`
}
const TELL_HEIGHT =
  '<script>new ResizeObserver(function(){parent.postMessage({cavlin:"height",height:document.documentElement.getBoundingClientRect().height},"*")}).observe(document.documentElement)</script>'
