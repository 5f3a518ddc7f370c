import { getQuery, setResponseStatus, type H3Event } from 'h3'
import { pointsOn } from '#core/pages/definition'
import { anyBySlug, type AnyPoint, type Page, type Point } from '#db/points'
import { closedNow } from '#server/capture/closed'
import { applicationContext } from '#server/application-context'
import { personalOf } from '#server/capture/personal'
import { hostedClosed, hostedForm, hostedNothing, hostedPage, type Again } from '#server/hosted/pages'
import { database } from '#server/database'
import { baseOf } from '#server/hosts'
import { ownAddress } from '#server/settings'
import { leadTo } from '#server/wire'
import { inTongueOf, tongueFor } from '#server/words'

/** What is live at the address in hand; null with the answer sent already, when it moved or there is nothing. */
export async function atAddress(event: H3Event, behind = ''): Promise<{ point: AnyPoint } | { answer: unknown }> {
  const slug = event.context.params?.slug ?? ''
  const point = await anyBySlug(database(), slug)
  const under = event.context.host as string | undefined
  if (!point?.live || (under !== undefined && point.host !== under)) {
    setResponseStatus(event, 404)
    return { answer: hostedNothing(event) }
  }
  const query = event.path.split('?')[1]
  const path = `/p/${point.slug}${behind}${query ? `?${query}` : ''}`
  const base = baseOf(point)
  // Not for ever, as browsers would keep it: a name may be taken away again.
  if (under === undefined && base !== ownAddress()) return { answer: await leadTo(event, base + path, 303) }
  return point.slug === slug ? { point } : { answer: await leadTo(event, path, 301) }
}

/** The form that stands on a landing page; null when it is put away or not live. */
export async function pointOf(page: Page): Promise<Point | null> {
  const key = pointsOn(page.live!.definition)[0]
  const point = key ? await applicationContext().cache.point(key) : undefined
  return point?.live ? point : null
}

/** A form or a landing page as visitors see it; also again, with what they typed and what is wrong with it. */
export async function shownAt(event: H3Event, at: AnyPoint, again: Again = {}): Promise<string> {
  const token = getQuery(event).cavlin
  if (at.kind !== 'page') {
    const shown = inTongueOf(at, tongueFor(event, at.live!.definition))
    const closed = await closedNow(shown)
    return closed === null ? hostedForm(event, shown, again, await personalOf(shown, token)) : hostedClosed(event, shown, closed)
  }
  const plain = await pointOf(at)
  // A form on a page speaks the page's language, where it can.
  event.context.language ??= at.live!.definition.language
  const point = plain && inTongueOf(plain, tongueFor(event, plain.live!.definition))
  return hostedPage(event, at, point, point && (await closedNow(point)), again, point && (await personalOf(point, token)))
}
