import type { H3Event } from 'h3'
import Negotiator from 'negotiator'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'

/** The language that a browser asks for, of those that are to be had (RFC 9110, 12.5.4); the first of them where it asks for none. */
export const languageOf = (event: H3Event, among: Language[] = LANGUAGE_KEYS): Language =>
  (new Negotiator(event.node.req).language(among) as Language | undefined) ?? among[0] ?? 'en'
