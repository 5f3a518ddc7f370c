import { languageMarkup, type Language } from '#core/languages/language'
import type { DisplayRules } from '#core/appearing/definition'
import { escapeHtml as e } from '#core/text'

/** How points stand over a page, for visitors and for the preview. `cv-` names and variables are those of `points/style.ts`; the variables must stand on what holds them. */
export const STANDING = `
dialog.cv-over{box-sizing:border-box;position:fixed;inset:0;margin:auto;padding:0;border:0;background:none;color:var(--cv-ink);width:min(34rem,calc(100vw - 24px));max-width:none;height:fit-content;max-height:calc(100dvh - 24px);overflow:auto;overscroll-behavior:contain;border-radius:var(--cv-round)}
dialog.cv-over::backdrop{background:rgb(20 28 28/.55)}
.cv-stand{box-sizing:border-box;position:fixed;z-index:2147483000;color:var(--cv-ink);font-family:var(--cv-font);font-size:16px;line-height:24px}
.cv-corner{bottom:16px;width:min(24rem,calc(100vw - 32px));max-height:calc(100dvh - 32px);overflow:auto;overscroll-behavior:contain;border-radius:var(--cv-round);box-shadow:0 1px 2px rgb(0 0 0/.16),0 10px 34px rgb(0 0 0/.2)}
.cv-corner.start{inset-inline-start:16px}.cv-corner.end{inset-inline-end:16px}
.cv-edge{inset-inline:0;background:var(--cv-sheet)}
.cv-edge.start{top:0;box-shadow:0 1px 10px rgb(0 0 0/.16)}.cv-edge.end{bottom:0;box-shadow:0 -1px 10px rgb(0 0 0/.16)}
.cv-edge .cv{display:flex;flex-wrap:wrap;gap:8px 20px;align-items:center;justify-content:center;max-width:none;padding:10px 56px;border:0;border-radius:0}
.cv-edge .cv p{margin:0}
.cv-float{bottom:16px;z-index:2147482999;max-width:calc(100vw - 32px)}
.cv-float.start{inset-inline-start:16px}.cv-float.end{inset-inline-end:16px}
.cv-float .cv{width:auto;padding:0;border:0;background:none}
.cv-float .cv .cv-button{width:auto;box-shadow:0 1px 2px rgb(0 0 0/.16),0 6px 20px rgb(0 0 0/.24)}
.cv-frame{position:relative}
.cv.cv-frame,.cv-frame .cv{max-width:none}
.cv-frame .cv-title{padding-inline-end:32px}
.cv .cv-words{margin:0 28px 14px 0;font-weight:600;white-space:pre-line;overflow-wrap:anywhere}
.cv-edge .cv .cv-words{margin:0}
.cv-corner .cv-words+p{margin:0}
.cv-frame .cv-shut{position:absolute;top:8px;inset-inline-end:8px;z-index:1;width:36px;height:36px;padding:0;border:0;border-radius:50%;background:var(--cv-sheet);color:var(--cv-ink);font:400 22px/1 system-ui,sans-serif;cursor:pointer}
.cv-frame .cv-shut:hover{background:color-mix(in srgb,var(--cv-sheet) 88%,var(--cv-ink))}
.cv-frame .cv-shut:focus-visible{outline:3px solid var(--cv-accent);outline-offset:1px}
.cv-ask .cv{justify-content:space-between;padding:16px max(20px,calc(50vw - 34rem))}
.cv-ask .cv p{flex:1 1 22rem;white-space:pre-line}
.cv .cv-pair{display:flex;gap:10px}
.cv .cv-even{min-height:44px;min-width:8rem;padding:8px 18px;border:1px solid var(--cv-ink);border-radius:var(--cv-round-button);background:var(--cv-sheet);color:var(--cv-ink);font-weight:600;cursor:pointer}
.cv .cv-even:hover{background:color-mix(in srgb,var(--cv-sheet) 90%,var(--cv-ink))}
@media (prefers-reduced-motion:no-preference){.cv-corner,dialog.cv-over[open]{animation:cv-in .18s ease-out}@keyframes cv-in{from{opacity:0;transform:translateY(8px)}}}
`
export const shutMarkup = (close: string): string => `<button type="button" class="cv-shut" aria-label="${e(close)}">×</button>`

/** A bar or a card before it is opened. @param label what it is for, to those who do not see it */
export function invitationMarkup(
  a: Pick<DisplayRules, 'placement' | 'side' | 'invitation' | 'open'>,
  label: string,
  close: string,
  language: Language,
): string {
  return `<div class="cv-stand cv-${a.placement} ${a.side}" role="complementary" aria-label="${e(label)}"><div class="cv-frame cv" ${languageMarkup(language)}>${shutMarkup(close)}<p class="cv-words">${e(a.invitation || label)}</p><p><button type="button" class="cv-button">${e(a.open)}</button></p></div></div>`
}

/** A button of ours in a corner of the page, that opens a point. */
export const floatMarkup = ({ side, open }: Pick<DisplayRules, 'side' | 'open'>, language: Language): string =>
  `<div class="cv-stand cv-float ${side}"><div class="cv" ${languageMarkup(language)}><button type="button" class="cv-button" aria-haspopup="dialog">${e(open)}</button></div></div>`
