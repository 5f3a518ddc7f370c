import MarkdownIt from 'markdown-it'
import type Token from 'markdown-it/lib/token.mjs'
import { languageMarkup, type Language } from '#core/languages/language'
import type { MailLook } from '#core/mails/look'
import { placeholderAt } from '#core/mails/template'
import { escapeHtml as e } from '#core/text'

// Mail programs read styles only where they stand; our own pages allow none there, and get the same as classes.
const STYLES = {
  paragraph: () => 'margin:0 0 14px',
  heading: look => `margin:20px 0 8px;font-size:19px;line-height:26px;color:${look.ink}`,
  list: () => 'margin:0 0 14px;padding-inline-start:22px',
  item: () => 'margin:0 0 6px',
  link: look => `color:${look.accent};overflow-wrap:anywhere`,
  button: look =>
    `display:inline-block;padding:11px 20px;border-radius:${look.round}px;background:${look.accent};color:${look.onAccent};text-decoration:none;font-weight:600`,
  under: look => `font-size:13px;line-height:19px;color:${look.faded};word-break:break-all`,
  body: look => `margin:0;padding:24px 12px;background:${look.paper};color:${look.ink};font:16px/24px ${look.font}`,
  sheet: look =>
    `max-width:560px;margin:0 auto;padding:26px;background:${look.sheet};border:1px solid ${look.rule};border-radius:${Math.min(look.round, 8)}px`,
  logo: () => 'margin:0 0 18px',
  foot: look => `margin:22px 0 0;color:${look.faded};font-size:13px;line-height:19px`,
} satisfies Record<string, (look: MailLook) => string>
type Style = keyof typeof STYLES
/** Gives an element its style. */
type Wear = (style: Style) => string

/** As mail programs need it: with the element. */
export const inline =
  (look: MailLook): Wear =>
  style =>
    ` style="${e(STYLES[style](look))}"`
/** As our own pages need it: by a class, and a sheet of classes. */
export const byClass: Wear = style => ` class="mail-${style}"`
export const mailSheet = (look: MailLook): string =>
  Object.entries(STYLES)
    .map(([name, css]) => `.mail-${name}{${css(look)}}`)
    .join('')

interface Drawing {
  wear: Wear
  /** What stands on the button that an address alone in its paragraph becomes; undefined: it stays an address. */
  press?: string
}

const LEADS_OUT = /^(?:https?:\/\/|mailto:)/i

/** The part of Markdown that mails have: emphasis, headings, lists, links. */
function dialect(): MarkdownIt {
  const markdown = new MarkdownIt('commonmark', { html: false, breaks: true, xhtmlOut: false }).disable([
    'code',
    'fence',
    'blockquote',
    'hr',
    'backticks',
    'image',
    'entity',
    'html_block',
    'html_inline',
    'reference',
    'lheading',
  ])
  markdown.validateLink = url => LEADS_OUT.test(url)
  // A link without an address (`[words]()`) is its words.
  markdown.core.ruler.push('nowhere', ({ tokens }) => {
    for (const token of tokens) {
      let nowhere = false
      token.children &&= token.children.filter(t => {
        if (t.type === 'link_open') nowhere = !t.attrGet('href')
        return !(nowhere && (t.type === 'link_open' || t.type === 'link_close'))
      })
    }
  })
  return markdown
}

/** Reads a mail's text as it is written, with placeholders as tokens of their own; also where a link leads to one. */
export function templateMarkdown(): MarkdownIt {
  const markdown = dialect()
  markdown.inline.ruler.before('emphasis', 'placeholder', (state, silent) => {
    const found = placeholderAt(state.src.slice(state.pos, state.posMax))
    if (!found) return false
    if (!silent) state.push('placeholder', '', 0).meta = { name: found.name, fallback: found.fallback }
    state.pos += found.length
    return true
  })
  const isPlaceholder = (url: string) => placeholderAt(url)?.length === url.length
  const { validateLink, normalizeLink } = markdown
  markdown.validateLink = url => isPlaceholder(url) || validateLink(url)
  markdown.normalizeLink = url => (isPlaceholder(url) ? url : normalizeLink(url))
  return markdown
}

const written = dialect()

/** A link that has its paragraph for itself. */
function isAlone(tokens: Token[], i: number): boolean {
  const inner = tokens[i + 1]?.children ?? []
  return inner.length === 3 && inner[0]!.type === 'link_open' && inner[1]!.type === 'text'
}
written.core.ruler.push('alone', ({ tokens }) => {
  tokens.forEach((token, i) => {
    if (token.type === 'paragraph_open' && !token.hidden && isAlone(tokens, i))
      tokens[i + 1]!.children!.forEach(t => (t.meta = { alone: true }))
  })
})
const styled =
  (tag: string, style: Style) =>
  (tokens: Token[], i: number, _: unknown, { wear }: Drawing) =>
    tokens[i]!.hidden ? '' : `<${tag}${wear(style)}>`
/** An address that stands by itself, and is drawn as a button with the address under it. */
const isPressed = ({ meta, markup }: Token, press: string | undefined) => Boolean(meta?.alone && markup === 'autolink' && press)
Object.assign(written.renderer.rules, {
  paragraph_open: styled('p', 'paragraph'),
  heading_open: styled('h2', 'heading'),
  heading_close: () => '</h2>',
  bullet_list_open: styled('ul', 'list'),
  ordered_list_open: (tokens: Token[], i: number, _: unknown, { wear }: Drawing) =>
    `<ol start="${e(String(tokens[i]!.attrGet('start') ?? 1))}"${wear('list')}>`,
  list_item_open: styled('li', 'item'),
  link_open(tokens: Token[], i: number, _: unknown, { wear, press }: Drawing) {
    const token = tokens[i]!
    const pressed = isPressed(token, press)
    const button = pressed || (token.meta?.alone && token.markup !== 'autolink')
    return `<a href="${e(String(token.attrGet('href')))}"${wear(button ? 'button' : 'link')}>${pressed ? `${e(press!)}</a><br><span${wear('under')}>` : ''}`
  },
  link_close: (tokens: Token[], i: number, _: unknown, { press }: Drawing) => (isPressed(tokens[i]!, press) ? '</span>' : '</a>'),
})

/** The text of a mail as HTML. Whatever was typed into it is text (`asMarkdown`). @param press what a lone address is to say as a button */
export const mailMarkup = (text: string, wear: Wear, press?: string): string => written.render(text, { wear, press } satisfies Drawing)

/** A mail on its sheet. @param foot HTML below the text @param base where pictures come from */
export function mailOnSheet(inner: string, foot: string, { logo, language }: MailLook, wear: Wear, base: string): string {
  const over = logo
    ? `<p${wear('logo')}><img src="${e(base + logo.path)}" alt="${e(logo.alt)}" width="${logo.width}" height="${logo.height}"></p>`
    : ''
  return `<div ${languageMarkup(language)}${wear('sheet')}>${over}${inner}<p${wear('foot')}>${foot}</p></div>`
}

/** A whole mail as HTML, as mail programs draw it. */
export const mailPage = (onSheet: string, language: Language, wear: Wear): string =>
  `<!doctype html><html ${languageMarkup(language)}><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="color-scheme" content="light only"></head>` +
  `<body${wear('body')}>${onSheet}</body></html>`
