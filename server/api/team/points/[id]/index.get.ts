import { defineEventHandler } from 'h3'
import { anyPoint, pointView } from '#server/capture/editing'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => {
  await memberOf(event)
  return pointView(await anyPoint(event))
})
