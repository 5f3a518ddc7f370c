import { defineEventHandler, sendNoContent } from 'h3'
import { DROPPED } from '#core/deliveries/delivery'
import { tryAgain } from '#db/deliveries'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/** Tries what failed once more, at once. */
export default defineEventHandler(async event => {
  await memberOf(event, 'manage deliveries')
  const id = idFrom(event)
  const was = await database().begin(tx => tryAgain(tx, id))
  if (!was) throw problem(404, 'There is no such delivery.')
  if (was.sentAt) throw problem(409, 'It went out meanwhile, and is not sent again.')
  if (was.dropped && was.dropped !== 'gave up') throw problem(409, `This will not go out. ${DROPPED[was.dropped]}`)
  await say(database(), { jobs: true, deliveries: true })
  return sendNoContent(event)
})
