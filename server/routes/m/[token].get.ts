import { defineEventHandler } from 'h3'
import { strangePage } from '#server/hosted/mail-pages'
import { meetingPage } from '#server/hosted/meeting-page'
import { limit } from '#server/limits'
import { choosing } from '#server/meetings/choose'

export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const c = await choosing(event.context.params?.token ?? '')
  return c ? meetingPage(event, c) : strangePage(event, 'meet')
})
