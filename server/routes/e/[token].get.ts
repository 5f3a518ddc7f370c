import { defineEventHandler } from 'h3'
import { correcting } from '#server/capture/correction'
import { correctPage } from '#server/hosted/correct-page'
import { strangePage } from '#server/hosted/mail-pages'
import { limit } from '#server/limits'

export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const c = await correcting(event.context.params?.token ?? '')
  return c ? correctPage(event, c) : strangePage(event, 'correct')
})
