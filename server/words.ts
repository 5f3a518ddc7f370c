import { getQuery, type H3Event } from 'h3'
import Negotiator from 'negotiator'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'
import type { PointDefinition } from '#core/points/definition'
import { inTongue, languagesOf } from '#core/points/translations'

const asked = (header: string, among: Language[]) =>
  new Negotiator({ headers: { 'accept-language': header } }).language(among) as Language | undefined

/** The language that a browser asks for, of those that are to be had (RFC 9110, 12.5.4); the first of them where it asks for none. */
export const languageOf = (event: H3Event, among: Language[] = LANGUAGE_KEYS): Language =>
  asked(String(event.node.req.headers['accept-language'] ?? '*'), among) ?? among[0] ?? 'en'

/** The language in which somebody is shown a point: what its page says (`?lang=`) or was said before, else what their browser asks for. */
export function tongueFor(event: H3Event, definition: PointDefinition): Language {
  const among = languagesOf(definition)
  if (among.length === 1) return among[0]!
  const said = event.context.language ?? getQuery(event).lang
  return (typeof said === 'string' && said ? asked(said.slice(0, 100), among) : undefined) ?? languageOf(event, among)
}

/** A live point in one of its languages. */
export function inTongueOf<P extends { live: { definition: PointDefinition } | null }>(point: P, language: Language): P {
  return point.live ? { ...point, live: { ...point.live, definition: inTongue(point.live.definition, language) } } : point
}
