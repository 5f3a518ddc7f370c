import { IntlMessageFormat } from 'intl-messageformat'
import type { Language } from '#core/languages/language'
import { ownTexts } from '#core/languages/own'
import { ar } from '#core/languages/texts/ar'
import { de } from '#core/languages/texts/de'
import { en, type TextKey, type Texts } from '#core/languages/texts/en'
import { es } from '#core/languages/texts/es'
import { fr } from '#core/languages/texts/fr'
import { nl } from '#core/languages/texts/nl'
import { pl } from '#core/languages/texts/pl'

export { useOwnTexts, type OwnTexts } from '#core/languages/own'
export type { TextKey, Texts } from '#core/languages/texts/en'

/** Our texts to visitors. */
export const TEXTS: Record<Language, Texts> = { en, fr, de, es, nl, pl, ar }
/** Says one of our texts in a language, with its values filled in. */
export type Say = (key: TextKey, values?: Record<string, string | number>) => string

const compiled = new Map<string, IntlMessageFormat>()
/** Plural forms are those of the language (CLDR); figures stay in Arabic digits as people type them. */
function messageOf(text: string, language: Language): IntlMessageFormat {
  const name = `${language} ${text}`
  let message = compiled.get(name)
  if (!message)
    compiled.set(
      name,
      (message = new IntlMessageFormat(text, language === 'ar' ? 'ar-u-nu-latn' : language, undefined, { ignoreTag: true })),
    )
  return message
}

/** Speaks to visitors in a language, in the house's own words where it has some. */
export const sayIn =
  (language: Language): Say =>
  (key, values) => {
    const text = ownTexts()[language]?.[key] ?? TEXTS[language][key]
    return text.includes('{') ? String(messageOf(text, language).format(values)) : text
  }
