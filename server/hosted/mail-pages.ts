import { setResponseStatus, type H3Event } from 'h3'
import { HOUSE_THEME, type Theme } from '#core/points/theme'
import type { Language } from '#core/languages/language'
import type { Way } from '#core/points/markup'
import { escapeHtml as e } from '#core/text'
import { page } from '#server/hosted/pages'
import { languageOf } from '#server/words'
import { sayIn } from '#core/languages/say'
import { readToken, type SignedAct } from '#server/signed-addresses'

/**
 * A page that asks for one press: programs that follow links in mails press nothing.
 * @param leadsTo where the answer leads on to, on another site
 */
export const askPage = (event: H3Event, language: Language, title: string, text: string, button: string, leadsTo: string[] = []): string =>
  page(
    event,
    title,
    `<form class="cv" method="post"><h1 class="cv-title">${e(title)}</h1><p class="cv-intro">${e(text)}</p><div class="cv-acts"><button class="cv-button">${e(button)}</button></div></form>`,
    HOUSE_THEME,
    { leadsTo, language },
  )

export const saidPage = (
  event: H3Event,
  language: Language,
  title: string,
  text: string,
  status = 200,
  way: Way | null = null,
  theme: Theme = HOUSE_THEME,
): string => {
  setResponseStatus(event, status)
  return page(
    event,
    title,
    `<div class="cv" role="status"><h1 class="cv-title">${e(title)}</h1><p class="cv-intro">${e(text)}</p>${way ? `<p><a class="cv-way" href="${e(way.url)}">${e(way.text)}</a></p>` : ''}</div>`,
    theme,
    { language },
  )
}

/** For a link that does not work, or no more; in the language of the browser, for nobody knows whose it was. @param act what it would have done */
export function strangePage(event: H3Event, act: SignedAct): string {
  const language = languageOf(event)
  const say = sayIn(language)
  return readToken(act, event.context.params?.token ?? '')?.over
    ? saidPage(event, language, say('oldTitle'), say('old'), 410)
    : saidPage(event, language, say('brokenTitle'), say('broken'), 404)
}
