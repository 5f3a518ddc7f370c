import type { Language } from '#core/languages/language'
import type { OwnTexts, TextKey } from '#core/languages/say'
import type { Db } from '#db/client'

/** The house's own words, by language. */
export async function ownTexts(db: Db): Promise<OwnTexts> {
  const rows = await db<{ language: Language; key: TextKey; text: string }[]>`select language, key, text from own_text`
  const texts: OwnTexts = {}
  for (const { language, key, text } of rows) (texts[language] ??= {})[key] = text
  return texts
}

/** Says something in the house's own words; '' in ours again. */
export const saveOwnText = (db: Db, language: Language, key: TextKey, text: string) =>
  text
    ? db`insert into own_text (language, key, text) values (${language}, ${key}, ${text}) on conflict (language, key) do update set text = excluded.text`
    : db`delete from own_text where language = ${language} and key = ${key}`
