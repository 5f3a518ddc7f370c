import { defineEventHandler } from 'h3'
import { dropGoingLive } from '#db/going-live'
import { applicationContext } from '#server/application-context'
import { anyPoint, pointView } from '#server/capture/editing'
import { changed } from '#server/live/changed'
import { memberOf } from '#server/session'

/** Nothing of this point goes live by itself any more. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const point = await anyPoint(event)
  await dropGoingLive(applicationContext().sql, point.id)
  await changed({ points: [point.id] })
  return pointView(await anyPoint(event))
})
