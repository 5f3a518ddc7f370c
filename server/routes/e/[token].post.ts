import { defineEventHandler } from 'h3'
import { correcting, correctTo } from '#server/capture/correction'
import { formFields } from '#server/capture/posted'
import { correctPage } from '#server/hosted/correct-page'
import { saidPage, strangePage } from '#server/hosted/mail-pages'
import { limit } from '#server/limits'
import { readText } from '#server/wire'

export default defineEventHandler(async (event) => {
  await limit(event, 'entries')
  const [c, body] = await Promise.all([correcting(event.context.params?.token ?? ''), readText(event)])
  if (!c) return strangePage(event, 'correct')
  const several = c.edition.definition.questions.filter(q => q.kind === 'some_of').map(q => q.key)
  const { fields, flaws: doubled } = formFields(new URLSearchParams(body), several)
  const flaws = doubled.length ? doubled : await correctTo(c, fields)
  if (flaws.length) return correctPage(event, c, { values: fields, flaws })
  return saidPage(event, 'Corrected', 'Thank you. We have what you sent now as it should be.', 200, null, c.edition.definition.theme)
})
