import { IsIn, IsString, MaxLength } from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { textFlaw } from '#core/languages/check'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'
import { TEXTS, type TextKey } from '#core/languages/say'
import { saveOwnText } from '#db/texts'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class OwnText {
  @IsIn(LANGUAGE_KEYS) language!: Language
  @IsIn(Object.keys(TEXTS.en)) key!: TextKey
  /** '' for ours. */
  @IsString() @MaxLength(1000) text!: string
}

/** Says something to visitors in the house's own words. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit site')
  const { language, key, text } = await readChecked(event, OwnText)
  const own = text.trim()
  const flaw = own && textFlaw(key, language, own)
  if (flaw) throw problem(422, flaw, [{ field: 'text', message: flaw }])
  await saveOwnText(database(), language, key, own === TEXTS[language][key] ? '' : own)
  await changed({ site: true })
  return sendNoContent(event)
})
