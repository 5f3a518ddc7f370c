import type { Appearance } from '#core/appearing/definition'
import { escapeHtml as e } from '#core/text'

/** How points stand over a page, for visitors and for the preview. `cv-` names and variables are those of `points/style.ts`. */
export const STANDING = ``
export const SHUT = '<button type="button" class="cv-shut" aria-label="Close">×</button>'

/** A bar or a card before it is opened. @param label what it is for, to those who do not see it */
export function invitationMarkup(a: Pick<Appearance, 'placement' | 'side' | 'invitation' | 'open'>, label: string): string {
  return `<div class="cv-stand cv-${a.placement} ${a.side}" role="complementary" aria-label="${e(label)}"><div class="cv-frame cv">${SHUT}<p class="cv-words">${e(a.invitation || label)}</p><p><button type="button" class="cv-button">${e(a.open)}</button></p></div></div>`
}
