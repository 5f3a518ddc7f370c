import type { Corners, Font, Pattern } from '#core/points/limits'
import { widthFor } from '#core/files/sizes'
import { sizedPath } from '#core/points/next'
import type { Mark, SentFile, Theme } from '#core/points/shapes/theme'

export { HOUSE_THEME } from '#core/points/defaults'
export {
  ALIGNS,
  BUTTON_WIDTHS,
  CORNERS,
  FIELD_SHAPES,
  FONTS,
  PATTERNS,
  WIDTHS,
  type Corners,
  type Font,
  type Pattern,
} from '#core/points/limits'
export type { Backdrop, Mark, Theme } from '#core/points/shapes/theme'

const STACKS: Record<Font, string> = {
  page: 'inherit',
  plain: '"Hanken Grotesk Variable",system-ui,sans-serif',
  bookish: '"Literata Variable",Georgia,serif',
  round: '"Nunito Variable",system-ui,sans-serif',
  upright: '"Bricolage Grotesque Variable",system-ui,sans-serif',
}
/** The files of a shipped font: how it is called, and the letters that each file has. */
const SHIPPED: Partial<Record<Font, { family: string; name: string }>> = {
  plain: { family: 'Hanken Grotesk Variable', name: 'hanken-grotesk' },
  bookish: { family: 'Literata Variable', name: 'literata' },
  round: { family: 'Nunito Variable', name: 'nunito' },
  upright: { family: 'Bricolage Grotesque Variable', name: 'bricolage-grotesque' },
}
const LETTERS = {
  'latin-ext':
    'U+0100-02BA,U+02BD-02C5,U+02C7-02CC,U+02CE-02D7,U+02DD-02FF,U+0304,U+0308,U+0329,U+1D00-1DBF,U+1E00-1E9F,U+1EF2-1EFF,U+2020,U+20A0-20AB,U+20AD-20C0,U+2113,U+2C60-2C7F,U+A720-A7FF',
  latin:
    'U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+0304,U+0308,U+0329,U+2000-206F,U+20AC,U+2122,U+2191,U+2193,U+2212,U+2215,U+FEFF,U+FFFD',
}

/** The files of a theme's font, when it is one that ships with the application: a family, an address and the letters in it. */
export function fontFiles(theme: Pick<Theme, 'font'>, base = ''): { family: string; url: string; letters: string }[] {
  const font = SHIPPED[theme.font]
  return font
    ? Object.entries(LETTERS).map(([part, letters]) => ({
        family: font.family,
        url: `${base}/w/fonts/${font.name}-${part}.woff2`,
        letters,
      }))
    : []
}
/** A theme worked out, so that the script need not: variables to stand on what is around, and fonts. */
export interface DrawnTheme {
  variables: string
  fonts: ReturnType<typeof fontFiles>
}
export const drawnTheme = (theme: Theme, base: string): DrawnTheme => ({
  variables: themeVariables(theme, base),
  fonts: fontFiles(theme, base),
})
/**
 * The same as CSS, for pages of ours and plain copies.
 * @param display what a browser does until a font is there: `swap` shows another and changes it, `optional` changes nothing that was shown
 */
export const fontFaces = (theme: Pick<Theme, 'font'>, base = '', display: 'swap' | 'optional' = 'swap'): string =>
  fontFiles(theme, base)
    .map(
      f =>
        `@font-face{font-family:"${f.family}";font-weight:200 900;font-display:${display};src:url(${f.url}) format("woff2");unicode-range:${f.letters}}`,
    )
    .join('')

const VEIL = 0.86
/** What lies on a ground of some colour, as CSS layers. A picture keeps so little of itself that text stays readable on it. */
export function backdropLayers(theme: Theme, ground: string, base = ''): string {
  if (theme.backdrop.kind === 'plain') return 'none'
  if (theme.backdrop.kind === 'picture')
    return `linear-gradient(${alpha(ground, VEIL)},${alpha(ground, VEIL)}),url("${base}${sizedPath(theme.backdrop.picture.file, widthFor(theme.backdrop.picture.width, 1920))}") center/cover`
  const line = mix(ground, theme.ink, 0.07)
  return (
    {
      panes: `linear-gradient(${line} 1px,transparent 1px) 0 0/100% 44px,linear-gradient(90deg,${line} 1px,transparent 1px) 0 0/44px 100%`,
      furrows: `repeating-linear-gradient(115deg,${line} 0 1px,transparent 1px 13px)`,
      seeds: `radial-gradient(${line} 1.6px,transparent 2.2px) 0 0/26px 26px,radial-gradient(${line} 1.6px,transparent 2.2px) 13px 13px/26px 26px`,
      shade: `linear-gradient(160deg,${mix(ground, theme.accent, 0.13)},transparent 62%)`,
    } as Record<Pattern, string>
  )[theme.backdrop.pattern]
}
const alpha = (hex: string, a: number) => `rgb(${channels(hex).join(' ')} / ${a})`
const RADII: Record<Corners, [number, number]> = { square: [0, 0], soft: [6, 4], round: [18, 23] }
const COLUMNS = { narrow: '26rem', medium: '34rem', wide: '46rem' }

/** How high a logo stands in a box: said beforehand, so that nothing moves when it comes. */
export const logoHeight = ({ width, height }: Pick<Mark, 'width' | 'height'>, most: number, high: number): number =>
  Math.max(1, Math.round(Math.min(high, height, (most * height) / width)))

/** A theme as CSS custom properties, which `style.ts` reads. @param base where pictures come from, when not from here */
export function themeVariables(theme: Theme, base = ''): string {
  const [sheet, field] = RADII[theme.corners]
  const dark = luminance(theme.sheet) < 0.2
  const text =
    theme.fields === 'boxed'
      ? dark
        ? mix(theme.sheet, '#000000', 0.25)
        : '#ffffff'
      : theme.fields === 'filled'
        ? mix(theme.sheet, theme.ink, 0.08)
        : 'transparent'
  return [
    `--cv-sheet:${theme.sheet}`,
    `--cv-backdrop:${backdropLayers(theme, theme.sheet, base)}`,
    `--cv-ink:${theme.ink}`,
    `--cv-accent:${theme.accent}`,
    `--cv-on-accent:${readableOn(theme.accent)}`,
    `--cv-faded:${mix(theme.ink, theme.sheet, 0.28)}`,
    `--cv-line:${mix(theme.ink, theme.sheet, 0.45)}`,
    `--cv-rule:${mix(theme.ink, theme.sheet, 0.82)}`,
    `--cv-field:${text}`,
    `--cv-wrong:${dark ? '#f0a899' : '#a63d2f'}`,
    `--cv-font:${STACKS[theme.font]}`,
    `--cv-round:${sheet}px`,
    `--cv-round-field:${theme.fields === 'lined' ? 0 : Math.min(field, 12)}px`,
    `--cv-round-button:${field}px`,
    `--cv-column:${COLUMNS[theme.width]}`,
    `--cv-align:${theme.align}`,
    `--cv-button:${theme.button === 'full' ? '100%' : 'auto'}`,
    ...(theme.logo ? [`--cv-logo:${logoHeight(theme.logo, 240, 64)}px`] : []),
    `--cv-border:${theme.fields === 'boxed' ? '1px' : theme.fields === 'lined' ? '0 0 1px' : '0 0 2px'}`,
    `--cv-inset:${theme.fields === 'lined' ? '2px' : '12px'}`,
  ].join(';')
}

/** Relative luminance of `#rrggbb`, 0 to 1 (WCAG 2.2). */
export function luminance(hex: string): number {
  const [r, g, b] = channels(hex)
    .map(c => c / 255)
    .map(c => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4))
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!
}

/** Contrast of two colours, 1 to 21 (WCAG 2.2). Text asks for 4.5, large text and shapes for 3. */
export function contrast(a: string, b: string): number {
  const [dark, light] = [luminance(a), luminance(b)].sort((x, y) => x - y)
  return (light! + 0.05) / (dark! + 0.05)
}

/** White or black, whichever reads better on a colour: at least 4.58, as their contrasts with it multiply to 21. */
export const readableOn = (colour: string): string => (contrast(colour, '#ffffff') >= contrast(colour, '#000000') ? '#ffffff' : '#000000')

/** A colour moved some way (0 to 1) towards another. */
export function mix(from: string, to: string, way: number): string {
  const [a, b] = [channels(from), channels(to)]
  return `#${a
    .map((c, i) =>
      Math.round(c + (b[i]! - c) * way)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`
}

const channels = (hex: string) => [1, 3, 5].map(i => parseInt(hex.slice(i, i + 2), 16))

/** The files of ours that a theme shows. */
export const themeFiles = (theme: Theme): SentFile[] => [
  ...[theme.logo, theme.header].flatMap(mark => mark?.file ?? []),
  ...(theme.backdrop.kind === 'picture' ? [theme.backdrop.picture.file] : []),
]
