/** Languages that visitors are spoken to in, by what they call themselves. */
export const LANGUAGES = {
  en: 'English',
  fr: 'Français',
  de: 'Deutsch',
  es: 'Español',
  nl: 'Nederlands',
  pl: 'Polski',
  ar: 'العربية',
} as const
export type Language = keyof typeof LANGUAGES
// What a browser's script does not use stays out of it.
export const LANGUAGE_KEYS = /* @__PURE__ */ Object.keys(LANGUAGES) as Language[]

/** Which way a language is written. */
export const directionOf = (language: Language): 'ltr' | 'rtl' => (language === 'ar' ? 'rtl' : 'ltr')
/** As an element says it. */
export const languageMarkup = (language: Language): string => `lang="${language}" dir="${directionOf(language)}"`
