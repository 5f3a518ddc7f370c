import { defineEventHandler } from 'h3'
import { check, isPlain } from '#core/validate'
import { TOLD, type Told } from '#core/telling/telling'
import { flawInNotice, NoticeText, type NoticeTexts } from '#core/telling/worded'
import { setNoticeTexts } from '#db/telling'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readJson } from '#server/wire'

/** How members are told things, topic by topic; what is left out is told as usual. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit plan')
  const body = await readJson(event)
  if (!isPlain(body)) throw problem(422, 'Send an object: topics with a subject and a text.')
  const texts: NoticeTexts = {}
  for (const [topic, said] of Object.entries(body)) {
    if (!(TOLD as readonly string[]).includes(topic)) throw problem(422, `There is no such topic. There are: ${TOLD.join(', ')}.`)
    const { value, flaws } = check(NoticeText, said)
    if (!value)
      throw problem(
        422,
        'Some fields are wrong; see the list.',
        flaws.map(f => ({ ...f, field: `${topic}.${f.field}` })),
      )
    for (const field of ['subject', 'text'] as const) {
      const flaw = flawInNotice(value[field])
      if (flaw) throw problem(422, flaw, [{ field: `${topic}.${field}`, message: flaw }])
    }
    texts[topic as Told] = { subject: value.subject, text: value.text }
  }
  await setNoticeTexts(database(), texts)
  await changed({ colleagues: true })
  return { texts }
})
