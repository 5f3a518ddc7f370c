import type { H3Event } from 'h3'
import { HOUSE_THEME } from '#core/points/theme'
import { escapeHtml as e } from '#core/text'
import { page } from '#server/hosted/pages'
import { languageOf } from '#server/words'
import { sayIn } from '#core/languages/say'

/** What a visitor reads while we cannot answer. It needs nothing but itself. */
export function awayPage(event: H3Event): string {
  const language = languageOf(event)
  const say = sayIn(language)
  const body = `<div class="cv" role="status"><h1 class="cv-title">${e(say('awayTitle'))}</h1><p class="cv-intro">${e(say('away'))}</p></div>`
  return page(event, say('awayTitle'), body, HOUSE_THEME, { language })
}

/** The same for who sent a form without any script: what they typed stands in it, and is sent once more with a press. It counts once. */
export function sendAgainPage(event: H3Event, typed: Iterable<[string, string]>): string {
  const language = languageOf(event)
  const say = sayIn(language)
  const kept = [...typed]
    .slice(0, 200)
    .map(([name, value]) => `<input type="hidden" name="${e(name)}" value="${e(value)}">`)
    .join('')
  const head = `<h1 class="cv-title">${e(say('awayTitle'))}</h1><p class="cv-intro" role="status">${e(say('notTaken'))}</p>`
  const body = `<form class="cv" method="post" action="${e(event.path)}">${head}${kept}<div class="cv-acts"><button class="cv-button">${e(say('sendAgain'))}</button></div></form>`
  return page(event, say('awayTitle'), body, HOUSE_THEME, { language })
}

/** For all else that stops a visitor. */
export const stopPage = (event: H3Event, title: string, detail: string): string =>
  page(event, title, `<div class="cv" role="alert"><h1 class="cv-title">${e(title)}</h1><p class="cv-intro">${e(detail)}</p></div>`)
