import { defineEventHandler } from 'h3'
import { read } from '#core/shapes'
import { Telling } from '#core/telling/telling'
import { setTelling } from '#db/members'
import { applicationContext } from '#server/application-context'
import { flawInAddress } from '#server/outside'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readJson } from '#server/wire'

/** What reaches oneself, how and when. */
export default defineEventHandler(async event => {
  const member = await memberOf(event)
  const { value, flaws } = read(Telling, await readJson(event))
  if (!value) throw problem(422, 'Some fields are wrong; see the list.', flaws)
  const flaw = value.chat === null ? null : flawInAddress(value.chat)
  if (flaw) throw problem(422, flaw, [{ field: 'chat', message: flaw }])
  const { sql } = applicationContext()
  await setTelling(sql, member.id, value)
  await changed({ colleagues: true })
  return { telling: value }
})
