import type { PublicPoint } from '#core/points/definition'
import { fontFaces } from '#core/points/theme'
import { formMarkup } from '#core/points/markup'
import { pointStyle } from '#core/points/style'
import { escapeHtml as e } from '#core/text'

/** A tag that draws the live edition where it stands, and keeps the room it needs. */
export const scriptTag = (base: string, key: string, height: number): string =>
  `<script async src="${e(base)}/w/cavlin.js" data-point="${e(key)}" style="display:block;min-height:${height}px"></script>`

/** A frame with the point's own page in it, for sites that allow no foreign scripts. */
export const frameTag = (base: string, slug: string, title: string, height: number): string =>
  `<iframe src="${e(base)}/p/${e(slug)}?frame=1" title="${e(title)}" style="width:100%;max-width:46rem;height:${height + 40}px;border:0"></iframe>`

/**
 * A whole form as plain HTML: styled, accessible, without any script. It does not follow later
 * editions; its entries say which edition and page they come from.
 * @param page where it will stand, if that is known: browsers tell us only the site
 */
export function plainHtml(base: string, point: PublicPoint, page: string | null): string {
  const form = formMarkup(point, {
    action: `${base}/w/points/${point.key}/entries`,
    base,
    hidden: { _via: 'plain', _edition: String(point.edition), ...(page && { _page: page }) },
  })
  // Browsers check what they can, where there is no script to.
  return `<style>${fontFaces(point.theme, base)}${pointStyle(point.theme, base).replace(/\n/g, '')}</style>\n${form.replace(' novalidate', '').replace('<p class="cv-problem" role="alert"></p>', '')}`
}
