import { defineEventHandler, setResponseStatus } from 'h3'
import { hostedNothing, hostedShared } from '#server/hosted/pages'
import { sharedResult } from '#server/hosted/shared'
import { limit } from '#server/limits'

/** A result as it is shown to others: nothing of who came to it. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const shared = await sharedResult(event)
  if (shared && 'answer' in shared) return shared.answer
  if (shared) return hostedShared(event, shared.point, shared.result)
  setResponseStatus(event, 404)
  return hostedNothing(event)
})
