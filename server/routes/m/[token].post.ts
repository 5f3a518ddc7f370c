import { defineEventHandler, setResponseHeader } from 'h3'
import { take } from '#db/allowances'
import { markOf } from '#server/capture/sender'
import { database } from '#server/database'
import { saidPage, strangePage } from '#server/hosted/mail-pages'
import { meetingPage } from '#server/hosted/meeting-page'
import { limit } from '#server/limits'
import { callMeetingOff, choose, choosing, momentText } from '#server/meetings/choose'
import { problem } from '#server/problem'
import { readText } from '#server/wire'
import { setting } from '#server/settings'
import { sayIn } from '#core/languages/say'

/** Times that one sender may choose, or move to, within an hour. */
const mostAnHour = () => setting('CAVLIN_LIMIT_BOOKINGS')

export default defineEventHandler(async event => {
  await limit(event, 'entries')
  const token = event.context.params?.token ?? ''
  const [c, body] = await Promise.all([choosing(token), readText(event, 4096)])
  if (!c) return strangePage(event, 'meet')
  const say = sayIn(c.language)
  const form = new URLSearchParams(body)
  const off = form.get('off')
  if (off !== null) {
    if (c.chosen?.id !== off || !(await callMeetingOff(c.lead, off, null, ''))) return meetingPage(event, (await choosing(token)) ?? c)
    return saidPage(event, c.language, say('meetOffTitle'), say('meetOffDone', { who: c.owner.name }))
  }
  const typed = form.get('at') ?? ''
  if (!/^\d{1,15}$/.test(typed)) return meetingPage(event, c, say('meetFirst'))
  const at = Number(typed)
  const [booking] = await take(database(), [{ kind: 'booking', key: markOf(event), seconds: 3600 }])
  if (booking!.taken > mostAnHour()) {
    setResponseHeader(event, 'Retry-After', booking!.seconds)
    throw problem(
      429,
      `Times were chosen from here too often. Try again in ${Math.ceil(booking!.seconds / 60)} minutes; nothing was changed.`,
    )
  }
  if (await choose(c, at))
    return saidPage(
      event,
      c.language,
      say('agreedTitle'),
      say('agreed', { who: c.owner.name, when: momentText(at, c.zone, c.language) }),
      200,
      null,
      c.theme,
    )
  return meetingPage(event, (await choosing(token)) ?? c, say('meetGone'))
})
