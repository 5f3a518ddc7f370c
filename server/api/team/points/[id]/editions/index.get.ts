import { defineEventHandler } from 'h3'
import { editionsOf } from '#db/points'
import { anyPoint } from '#server/capture/editing'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** All editions of a point, the newest first. */
export default defineEventHandler(async event => {
  await memberOf(event)
  return editionsOf(database(), (await anyPoint(event)).id)
})
