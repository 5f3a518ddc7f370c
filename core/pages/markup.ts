import MarkdownIt from 'markdown-it'
import type { Block, BlockKind, BlockOf, PageDefinition, Picture } from '#core/pages/definition'
import { backdropLayers, logoHeight, themeVariables, mix, type Theme } from '#core/points/theme'
import { SANDBOX } from '#core/pages/sandbox'
import { pictureMarkup } from '#core/points/pictures'
import { escapeHtml as e } from '#core/text'

/** How a page is drawn. */
export interface PageOptions {
  /** The markup of a point, by its key; null when it is not to be had. */
  point: (key: string) => string | null
  /** Where pictures come from, when not from here. */
  base?: string
  /** Where the page's snippets are served; without it they are only named. */
  snippets?: string
}

// Without HTML of its own, and with links only to where they may lead: `javascript:` is refused.
const markdown = new MarkdownIt({ html: false, linkify: false, breaks: true })

/** Text with emphasis, lists and links (CommonMark) as HTML. Markup in it is text. */
export const richText = (text: string): string => markdown.render(text)

/** A landing page's own part as HTML: the same for visitors and in the editor's preview. The first heading is the page's. */
export function pageMarkup(page: PageDefinition, options: PageOptions): string {
  const drawn = page.blocks.map((b, i) => {
    const inner = (DRAW[b.kind] as (block: Block, o: PageOptions, first: boolean) => string)(
      b,
      options,
      page.blocks.findIndex(o => o.kind === b.kind) === i,
    )
    const tag = b.kind === 'footer' ? 'footer' : 'section'
    return { block: b, html: inner && `<${tag} class="lp-block lp-${b.kind}" data-block="${e(b.key)}">${inner}</${tag}>` }
  })
  const logo = logoOf(page.theme.logo, options.base)
  const html = (list: typeof drawn) => list.map(d => d.html).join('')
  const at = drawn.findIndex(d => d.block.kind === 'point')
  const footers = drawn.filter(d => d.block.kind === 'footer')
  const body = drawn.filter(d => d.block.kind !== 'footer')
  if (page.layout === 'single' || at < 0) return `<div class="lp">${logo}<div class="lp-column">${html(body)}</div>${html(footers)}</div>`
  // What stands above the point goes beside it; what follows has the whole width.
  const n = body.findIndex(d => d.block.kind === 'point')
  return `<div class="lp lp-beside">${logo}<div class="lp-pair"><div class="lp-column">${html(body.slice(0, n))}</div><div class="lp-side">${body[n]!.html}</div></div><div class="lp-column lp-rest">${html(body.slice(n + 1))}</div>${html(footers)}</div>`
}

/** What stands there once the point was answered, in the page's own style. */
export function pageThanks({ thanks, theme }: Pick<PageDefinition, 'thanks' | 'theme'>): string {
  const on = thanks.button && thanks.address ? `<p><a class="lp-button" href="${e(thanks.address)}">${e(thanks.button)}</a></p>` : ''
  return `<div class="lp lp-thanks">${logoOf(theme.logo)}<div class="lp-column" role="status"><section class="lp-block lp-heading"><h1>${e(thanks.title)}</h1></section><section class="lp-block lp-text">${richText(thanks.text)}</section>${on}</div></div>`
}

const logoOf = (logo: Picture | null, base = '') =>
  logo ? `<header class="lp-head">${pictureMarkup(logo, '220px', 320, base)}</header>` : ''
const line = (tag: string, text: string, field: string, more = '') =>
  text ? `<${tag} data-field="${field}"${more}>${e(text)}</${tag}>` : ''

const DRAW: { [K in BlockKind]: (block: BlockOf<K>, options: PageOptions, first: boolean) => string } = {
  heading: (b, _, first) => line(first ? 'h1' : 'h2', b.text, 'text') + line('p', b.under, 'under', ' class="lp-under"'),
  text: b => (b.text ? richText(b.text) : ''),
  picture: (b, o, first) =>
    b.picture
      ? `<figure${b.wide ? ' class="lp-wide"' : ''}>${pictureMarkup(b.picture, b.wide ? '(min-width:74rem) 68rem,100vw' : '(min-width:44rem) 42rem,calc(100vw - 40px)', 960, o.base ?? '', first ? ' fetchpriority="high"' : ' loading="lazy" decoding="async"')}${line('figcaption', b.caption, 'caption')}</figure>`
      : '',
  benefits: b =>
    line('h2', b.title, 'title') +
    `<ul class="lp-items">${b.items.map(i => `<li>${line(b.title ? 'h3' : 'h2', i.title, `items.${i.key}.title`)}${line('p', i.text, `items.${i.key}.text`)}</li>`).join('')}</ul>`,
  quote: b => (b.text ? `<blockquote>${line('p', b.text, 'text')}</blockquote>${line('p', b.who, 'who', ' class="lp-who"')}` : ''),
  answers: b =>
    line('h2', b.title, 'title') +
    b.items
      .filter(i => i.question)
      .map(
        i =>
          `<details><summary>${line('span', i.question, `items.${i.key}.question`)}</summary>${line('p', i.answer, `items.${i.key}.answer`)}</details>`,
      )
      .join(''),
  point: (b, o) => (b.point && o.point(b.point)) || '',
  snippet: (b, { snippets }) =>
    !b.html.trim()
      ? ''
      : snippets
        ? snippetFrame(b, `${snippets}${b.key}`)
        : `<p class="lp-code">${e(b.title || 'HTML of somebody else')}</p>`,
  footer: b =>
    line('p', b.text, 'text') +
    (b.links.length
      ? `<nav aria-label="More">${b.links.map(l => `<a href="${e(l.address)}" data-field="links.${e(l.key)}.text">${e(l.text)}</a>`).join('')}</nav>`
      : ''),
}

/** A frame in which foreign code runs as on a site of its own. What waits for agreement has no address yet: `widget/snippets.ts` gives it one. */
const snippetFrame = ({ title, height, agreed }: BlockOf<'snippet'>, url: string): string =>
  `<iframe title="${e(title)}" ${agreed ? `data-src="${e(url)}"` : `src="${e(url)}"`} height="${height}" loading="lazy" sandbox="${SANDBOX}"></iframe>`

/** How a page looks: one sheet for visitors and the preview, out of the same theme that its form has. */
export const landingStyle = (theme: Theme): string =>
  `.lp{${themeVariables(theme)};${theme.logo ? `--lp-logo:${logoHeight(theme.logo, 200, 56)}px;` : ''}--lp-ground:${mix(theme.sheet, theme.ink, 0.03)};--lp-backdrop:${backdropLayers(theme, mix(theme.sheet, theme.ink, 0.03))};--lp-deep:${mix(theme.sheet, theme.accent, 0.1)}}${SHEET}`

const SHEET = `
.lp{min-height:100%;background:var(--lp-backdrop),var(--lp-ground);color:var(--cv-ink);font-family:var(--cv-font);font-size:17px;line-height:28px;overflow-wrap:anywhere}
.lp *{box-sizing:border-box}
.lp-column{max-width:42rem;margin:0 auto;padding:40px 20px 8px}
.lp-head{max-width:42rem;margin:0 auto;padding:26px 20px 0}
.lp-beside>.lp-head{max-width:72rem}
.lp .lp-head img{width:auto;height:var(--lp-logo);border-radius:0}
.lp-block{margin:0 0 36px}
.lp h1{margin:0;font-size:clamp(32px,5.4vw,52px);line-height:1.12;font-weight:700;letter-spacing:-.015em;text-wrap:balance}
.lp h2{margin:0 0 14px;font-size:clamp(23px,3vw,29px);line-height:1.25;font-weight:680;text-wrap:balance}
.lp-heading h2{margin:0}
.lp h3,.lp .lp-items h2{margin:0 0 2px;font-size:18px;line-height:26px;font-weight:660}
.lp p{margin:0 0 14px}
.lp-under{margin:12px 0 0!important;color:var(--cv-faded);font-size:20px;line-height:30px;text-wrap:pretty}
.lp-heading{margin-bottom:24px}
.lp-text>:last-child{margin-bottom:0}
.lp-text ul,.lp-text ol{margin:0 0 14px;padding-inline-start:22px}
.lp a{color:var(--cv-accent)}
.lp figure{margin:0}
.lp img{display:block;width:100%;height:auto;border-radius:calc(var(--cv-round) * 1.4)}
.lp figcaption{margin-top:8px;font-size:14.5px;line-height:22px;color:var(--cv-faded)}
.lp-items{list-style:none;margin:0;padding:0;display:grid;grid-template-columns:repeat(auto-fit,minmax(min(100%,190px),1fr));gap:20px 28px}
.lp-items li{padding-top:12px;border-top:3px solid var(--cv-accent)}
.lp-items p{margin:0;color:var(--cv-faded);font-size:16px;line-height:25px}
.lp blockquote{margin:0;padding:4px 0 4px 22px;border-inline-start:3px solid var(--cv-accent);font-size:21px;line-height:32px}
.lp blockquote p{margin:0;white-space:pre-line}
.lp-who{margin:10px 0 0 25px!important;color:var(--cv-faded);font-size:15.5px}
.lp details{border-top:1px solid var(--cv-rule)}
.lp details:last-child{border-bottom:1px solid var(--cv-rule)}
.lp summary{padding:13px 2px;font-weight:620;cursor:pointer}
.lp summary:focus-visible,.lp a:focus-visible{outline:3px solid var(--cv-accent);outline-offset:2px}
.lp details p{margin:0;padding:0 2px 16px 20px;color:var(--cv-faded);white-space:pre-line}
.lp-snippet iframe{display:block;width:100%;border:0}
.lp-code{margin:0;padding:18px;border:1px dashed var(--cv-line);color:var(--cv-faded);text-align:center;font-size:15px}
.lp-point .cv{max-width:none;width:100%}
.lp-button{display:inline-block;padding:11px 24px;border-radius:var(--cv-round-button);background:var(--cv-accent);color:var(--cv-on-accent)!important;font-weight:620;text-decoration:none}
.lp-footer{margin:24px 0 0;padding:26px 20px 34px;background:var(--lp-deep);font-size:15px;line-height:24px;text-align:center}
.lp-footer p{margin:0 0 6px;white-space:pre-line}
.lp-footer a{display:inline-block;margin:0 10px;padding:4px 0;color:inherit}
.lp-thanks{text-align:start}
@media (min-width:60rem){
.lp-pair{display:grid;grid-template-columns:minmax(0,1fr) minmax(22rem,27rem);gap:56px;max-width:72rem;margin:0 auto;padding:44px 32px 20px;align-items:start}
.lp-beside>.lp-head{padding-inline:32px}
.lp-pair .lp-column{max-width:none;padding:0;margin:0}
.lp-side{position:sticky;top:24px}
.lp-side .lp-block{margin:0 0 24px}
.lp-wide{margin-inline:-4rem!important}
.lp-pair .lp-wide{margin-inline:0!important}
.lp-rest{max-width:72rem;padding:20px 32px 8px}
.lp-rest .lp-text,.lp-rest .lp-quote{max-width:42rem}
}
@media (max-width:59.99rem){.lp-side{max-width:42rem;margin:0 auto;padding:0 20px}.lp-rest{padding-top:0}}
`
