import { isPluralElement, parse, TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import type { Language } from '#core/languages/language'
import { TEXTS, type TextKey } from '#core/languages/say'

/** What a text asks for: its values, and for plurals the forms that it has. */
export interface Asked {
  values: string[]
  plurals: string[][]
  /** Values that are said otherwise than as they are: counted, dated, chosen by. */
  formed: string[]
}

function walk(elements: MessageFormatElement[], asked: Asked): Asked {
  for (const element of elements) {
    if (element.type === TYPE.literal || element.type === TYPE.pound) continue
    if (element.type === TYPE.tag) continue
    asked.values.push(element.value)
    if (element.type !== TYPE.argument) asked.formed.push(element.value)
    if (!isPluralElement(element)) continue
    asked.plurals.push(Object.keys(element.options))
    Object.values(element.options).forEach(option => walk(option.value, asked))
  }
  return asked
}

/** What an ICU message asks for; null when it is none. */
export function askedBy(text: string): Asked | null {
  try {
    const asked = walk(parse(text, { ignoreTag: true }), { values: [], plurals: [], formed: [] })
    return { ...asked, values: [...new Set(asked.values)].sort() }
  } catch {
    return null
  }
}

/** The plural forms of a language (CLDR). */
export const formsOf = (language: Language): string[] => new Intl.PluralRules(language).resolvedOptions().pluralCategories

/** What is wrong with a text in place of ours; null when nothing is. */
export function textFlaw(key: TextKey, language: Language, text: string): string | null {
  const [ours, own] = [askedBy(TEXTS[language][key])!, askedBy(text)]
  if (!own) return 'A brace is not closed, or stands alone. Write it as in our text.'
  const lost = ours.values.find(v => !own.values.includes(v))
  if (lost) return `Keep {${lost}}: it stands for what only this moment knows.`
  const strange = own.values.find(v => !ours.values.includes(v))
  if (strange) return `{${strange}} stands for nothing here. Take it out.`
  // A name that is counted, or a day that is read as a moment, would stop the page that says it.
  const formed = own.formed.find(v => !ours.formed.includes(v))
  if (formed) return `{${formed}} stands for text here: write it by itself, without a form.`
  if (own.formed.length !== own.plurals.length) return 'Of forms only the plural is known here. Write it as in our text.'
  const missing = own.plurals.flatMap(forms => formsOf(language).filter(f => !forms.includes(f) && !forms.includes('other')))[0]
  return missing ? `The form “${missing}” of the plural is missing.` : null
}
