import type { Language } from '#core/languages/language'
import { sayIn, type TextKey } from '#core/languages/say'
import type { PointDefinition } from '#core/points/definition'

/** A point whose texts are in another language from now on. Those that are still ours change with it; the rest waits for who writes it. */
export function inLanguage(d: PointDefinition, language: Language): PointDefinition {
  const [was, now] = [sayIn(d.language), sayIn(language)]
  const follow = (text: string, key: TextKey) => (text === was(key) ? now(key) : text)
  return {
    ...d,
    language,
    translations: d.translations.filter(t => t.key !== language),
    button: follow(d.button, 'send'),
    thanks: follow(d.thanks, 'thanks'),
  }
}
