import { setResponseStatus, type H3Event } from 'h3'
import { DateTime } from 'luxon'
import { escapeHtml as e } from '#core/text'
import { page } from '#server/hosted/pages'
import { localeOf, momentText, type Choosing } from '#server/meetings/choose'
import { sayIn } from '#core/languages/say'

/** The free times to choose from, day by day; complete without any script. */
export function meetingPage(event: H3Event, c: Choosing, problem = ''): string {
  if (problem) setResponseStatus(event, 409)
  const {
    language,
    owner: { name: who },
  } = c
  const say = sayIn(language)
  const at = (ms: number) => DateTime.fromMillis(ms, { zone: c.zone, locale: localeOf(language) })
  const days = new Map<string, number[]>()
  for (const ms of c.free) {
    const day = at(ms).toFormat('cccc d LLLL')
    days.set(day, [...(days.get(day) ?? []), ms])
  }
  const zone = c.zone.replace(/^.*\//, '').replace(/_/g, ' ')
  const first = [...days.keys()][0]
  const shown = [...days]
    .map(
      ([day, times]) =>
        `<details class="cv-day"${day === first ? ' open' : ''}><summary>${e(day)} <span class="cv-optional">${e(say('meetFree', { n: times.length }))}</span></summary><fieldset><legend class="cv-unseen">${e(day)}</legend>${times
          .map(ms => `<label class="cv-time"><input type="radio" name="at" value="${ms}" required> ${at(ms).toFormat('H:mm')}</label>`)
          .join('')}</fieldset></details>`,
    )
    .join('')
  const chosen = c.chosen
    ? `<p class="cv-intro" role="status">${e(say('meetNow', { who, when: momentText(c.chosen.startsAt, c.zone, language) }))}</p>`
    : ''
  const off =
    c.chosen && c.chosen.startsAt.getTime() > Date.now()
      ? `<form method="post" class="cv cv-off"><input type="hidden" name="off" value="${e(c.chosen.id)}"><button type="submit" class="cv-plain">${e(say('meetOff'))}</button></form>`
      : ''
  const body = c.free.length
    ? `<form class="cv" method="post"><h1 class="cv-title">${e(say('meetTitle', { who }))}</h1>${chosen}<p class="cv-intro">${e(say('meetLong', { n: c.minutes, zone }))}</p><p class="cv-problem" role="alert">${e(problem)}</p>${shown}<div class="cv-acts"><button class="cv-button">${e(say(c.chosen ? 'meetMove' : 'meetTake'))}</button></div></form>`
    : `<div class="cv"><h1 class="cv-title">${e(say('meetNoneTitle'))}</h1>${chosen}<p class="cv-intro">${e(say('meetNone', { who }))}</p></div>`
  return page(event, say('meetTitle', { who }), body + off, c.theme, { style: STYLE, language })
}

const STYLE = `.cv-off{margin-top:18px}.cv .cv-plain{background:none;border:0;color:inherit;font:inherit;text-decoration:underline;padding:10px 0;cursor:pointer}.cv .cv-day{border-top:1px solid var(--cv-rule)}.cv .cv-day summary{padding:10px 0;font-weight:600;cursor:pointer}.cv .cv-day fieldset{display:grid;grid-template-columns:repeat(auto-fill,minmax(84px,1fr));gap:8px;margin:0;padding:0 0 14px;border:0}.cv .cv-time{display:flex;gap:8px;align-items:center;margin:0;padding:8px 10px;border:1px solid var(--cv-line);border-radius:var(--cv-round-field);font-weight:400;cursor:pointer}.cv .cv-time:has(:checked){border-color:var(--cv-accent);box-shadow:inset 0 0 0 1px var(--cv-accent)}.cv .cv-time input{width:18px;height:18px;margin:0;accent-color:var(--cv-accent)}.cv .cv-acts{margin-top:16px}`
