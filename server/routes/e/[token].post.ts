import { defineEventHandler } from 'h3'
import { correcting, correctTo } from '#server/capture/correction'
import { formFields } from '#server/capture/posted'
import { correctPage } from '#server/hosted/correct-page'
import { saidPage, strangePage } from '#server/hosted/mail-pages'
import { limit } from '#server/limits'
import { readText } from '#server/wire'
import { sayIn } from '#core/languages/say'

export default defineEventHandler(async event => {
  await limit(event, 'entries')
  const [c, body] = await Promise.all([correcting(event.context.params?.token ?? ''), readText(event)])
  if (!c) return strangePage(event, 'correct')
  const several = c.edition.definition.questions.filter(q => q.kind === 'some_of').map(q => q.key)
  const { fields, flaws: doubled } = formFields(new URLSearchParams(body), several)
  const flaws = doubled.length ? doubled : await correctTo(c, fields)
  if (flaws.length) return correctPage(event, c, { values: fields, flaws })
  const { language: own, theme } = c.edition.definition
  const language = c.entry.language ?? own
  const say = sayIn(language)
  return saidPage(event, language, say('correctedTitle'), say('corrected'), 200, null, theme)
})
