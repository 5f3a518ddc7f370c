import { defineEventHandler } from 'h3'
import { approve } from '#server/capture/approve'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

export default defineEventHandler(async (event) => {
  await memberOf(event, 'judge entries')
  return { lead: await approve(idFrom(event)) }
})
