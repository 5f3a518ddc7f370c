import type { H3Event } from 'h3'
import { escapeHtml as e } from '#core/text'
import { page } from '#server/hosted/pages'

/** What a visitor reads while we cannot answer. It needs nothing but itself. */
export const awayPage = (event: H3Event): string => page(event, 'Just a moment',
  '<div class="cv" role="status"><h1 class="cv-title">Just a moment</h1><p class="cv-intro">We cannot answer just now. Nothing is lost. Load this page again in a few seconds.</p></div>')

/** The same for who sent a form without any script: what they typed stands in it, and is sent once more with a press. It counts once. */
export function sendAgainPage(event: H3Event, typed: Iterable<[string, string]>): string {
  const kept = [...typed].slice(0, 200).map(([name, value]) => `<input type="hidden" name="${e(name)}" value="${e(value)}">`).join('')
  return page(event, 'Just a moment',
    `<form class="cv" method="post" action="${e(event.path)}"><h1 class="cv-title">Just a moment</h1><p class="cv-intro" role="status">We could not take this in just now. What you typed is kept on this page: send it again in a few seconds. It counts only once.</p>${kept}<div class="cv-acts"><button class="cv-button">Send it again</button></div></form>`)
}

/** For all else that stops a visitor. */
export const stopPage = (event: H3Event, title: string, detail: string): string =>
  page(event, title, `<div class="cv" role="alert"><h1 class="cv-title">${e(title)}</h1><p class="cv-intro">${e(detail)}</p></div>`)
