import { defineEventHandler } from 'h3'
import { letIn } from '#server/capture/let-in'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

export default defineEventHandler(async (event) => {
  await memberOf(event, 'judge entries')
  return { lead: await letIn(idFrom(event)) }
})
