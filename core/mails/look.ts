import type { Language } from '#core/languages/language'
import type { Font } from '#core/points/limits'
import { assetPath } from '#core/points/next'
import { mix, readableOn, type Theme } from '#core/points/theme'

/** How a mail looks: few colours, a font that every device has, and a picture over it. Mail programs know no variables. */
export interface MailLook {
  language: Language
  paper: string
  sheet: string
  ink: string
  faded: string
  rule: string
  accent: string
  onAccent: string
  font: string
  round: number
  logo: { path: string; alt: string; width: number; height: number } | null
}

// Mail programs load no fonts: each stands for the nearest that is there.
const FONTS: Record<Font, string> = {
  page: 'sans-serif',
  plain: 'Helvetica,Arial,sans-serif',
  bookish: 'Georgia,serif',
  round: '"Trebuchet MS",Verdana,sans-serif',
  upright: 'Verdana,sans-serif',
}
const ROUND = { square: 0, soft: 4, round: 18 }
const LOGO = { width: 220, height: 64 }

/** A theme as mails wear it. */
export function mailLook({ sheet, ink, accent, font, corners, logo }: Theme, language: Language): MailLook {
  const size = logo && Math.min(1, LOGO.width / logo.width, LOGO.height / logo.height)
  return {
    language,
    paper: mix(sheet, ink, 0.05),
    sheet,
    ink,
    faded: mix(ink, sheet, 0.28),
    rule: mix(ink, sheet, 0.82),
    accent,
    onAccent: readableOn(accent),
    font: FONTS[font],
    round: ROUND[corners],
    logo: logo && {
      path: assetPath(logo.file),
      alt: logo.alt,
      width: Math.max(1, Math.round(logo.width * size!)),
      height: Math.max(1, Math.round(logo.height * size!)),
    },
  }
}
