import { defineEventHandler } from 'h3'
import { saidPage, strangePage } from '#server/hosted/letter-pages'
import { meetingPage } from '#server/hosted/meeting-page'
import { limit } from '#server/limits'
import { choose, choosing, momentText } from '#server/meetings/choose'
import { readText } from '#server/wire'

export default defineEventHandler(async (event) => {
  await limit(event, 'entries')
  const token = event.context.params?.token ?? ''
  const [c, body] = await Promise.all([choosing(token), readText(event, 4096)])
  if (!c) return strangePage(event, 'meet')
  const typed = new URLSearchParams(body).get('at') ?? ''
  if (!/^\d{1,15}$/.test(typed)) return meetingPage(event, c, 'Choose one of the times first.')
  const at = Number(typed)
  if (await choose(c, at)) return saidPage(event, 'Agreed', `You meet ${c.owner.name} on ${momentText(at, c.zone)}. A mail with the calendar file is on its way to you.`, 200, null, c.look)
  return meetingPage(event, (await choosing(token)) ?? c, 'This time is not free any more. Choose another.')
})
