import { setResponseStatus, type H3Event } from 'h3'
import { DateTime } from 'luxon'
import { escapeHtml as e } from '#core/text'
import { page } from '#server/hosted/pages'
import { momentText, type Choosing } from '#server/meetings/choose'

/** The free times to choose from, day by day; complete without any script. */
export function meetingPage(event: H3Event, c: Choosing, problem = ''): string {
  if (problem) setResponseStatus(event, 409)
  const days = new Map<string, number[]>()
  for (const at of c.free) {
    const day = DateTime.fromMillis(at, { zone: c.zone }).toFormat('cccc d LLLL')
    days.set(day, [...days.get(day) ?? [], at])
  }
  const zone = c.zone.replace(/^.*\//, '').replace(/_/g, ' ')
  const first = [...days.keys()][0]
  const shown = [...days].map(([day, times]) => `<details class="cv-day"${day === first ? ' open' : ''}><summary>${e(day)} <span class="cv-optional">${times.length} free</span></summary><fieldset><legend class="cv-unseen">${e(day)}</legend>${times.map(at =>
    `<label class="cv-time"><input type="radio" name="at" value="${at}" required> ${DateTime.fromMillis(at, { zone: c.zone }).toFormat('H:mm')}</label>`).join('')}</fieldset></details>`).join('')
  const chosen = c.chosen ? `<p class="cv-intro" role="status">You meet ${e(c.owner.name)} on <b>${e(momentText(c.chosen.startsAt, c.zone))}</b>. You can move it here.</p>` : ''
  const body = c.free.length
    ? `<form class="cv" method="post"><h1 class="cv-title">When shall ${e(c.owner.name)} meet you?</h1>${chosen}<p class="cv-intro">${c.minutes} minutes. Times are ${e(zone)} time.</p><p class="cv-problem" role="alert">${e(problem)}</p>${shown}<div class="cv-acts"><button class="cv-button">${c.chosen ? 'Move it' : 'Take this time'}</button></div></form>`
    : `<div class="cv"><h1 class="cv-title">No time is free just now</h1>${chosen}<p class="cv-intro">${e(c.owner.name)} will write to you to find one.</p></div>`
  return page(event, `When shall ${c.owner.name} meet you?`, body, c.theme, { style: STYLE })
}

const STYLE = `.cv .cv-day{border-top:1px solid var(--cv-rule)}.cv .cv-day summary{padding:10px 0;font-weight:600;cursor:pointer}.cv .cv-day fieldset{display:grid;grid-template-columns:repeat(auto-fill,minmax(84px,1fr));gap:8px;margin:0;padding:0 0 14px;border:0}.cv .cv-time{display:flex;gap:8px;align-items:center;margin:0;padding:8px 10px;border:1px solid var(--cv-line);border-radius:var(--cv-round-field);font-weight:400;cursor:pointer}.cv .cv-time:has(:checked){border-color:var(--cv-accent);box-shadow:inset 0 0 0 1px var(--cv-accent)}.cv .cv-time input{width:18px;height:18px;margin:0;accent-color:var(--cv-accent)}.cv .cv-acts{margin-top:16px}`
