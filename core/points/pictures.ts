import { widthFor, widthsOf } from '#core/files/sizes'
import { sizedPath } from '#core/points/next'
import type { Mark } from '#core/points/theme'
import { escapeHtml as e } from '#core/text'

/**
 * A picture of ours as HTML, from which a browser takes the size that it needs.
 * @param sizes how wide it stands, as HTML's `sizes` says it
 * @param usual about how wide that is, in pixels, for who asks for one size
 */
export function pictureMarkup({ file, alt, width, height }: Mark, sizes: string, usual: number, base = '', more = ''): string {
  const at = (w: number) => e(base + sizedPath(file, w))
  return `<img src="${at(widthFor(width, usual))}" srcset="${widthsOf(width)
    .map(w => `${at(w)} ${w}w`)
    .join(', ')}" sizes="${e(sizes)}" alt="${e(alt)}" width="${width}" height="${height}"${more}>`
}
