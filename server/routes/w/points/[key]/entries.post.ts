import { defineEventHandler } from 'h3'
import { postedForm, postedJson, postedMultipart } from '#server/capture/posted'
import { requireLivePoint } from '#server/capture/require-live-point'
import { limit } from '#server/limits'
import { problem } from '#server/problem'
import { header, mediaType } from '#server/wire'

export default defineEventHandler(async event => {
  await limit(event, 'entries')
  const point = await requireLivePoint(event)
  const key = header(event, 'idempotency-key') || null
  const type = mediaType(event)
  if (type === 'application/json') return postedJson(event, point, key)
  if (type === 'application/x-www-form-urlencoded') return postedForm(event, point, key)
  if (type === 'multipart/form-data') return postedMultipart(event, point, key)
  throw problem(415, 'Send JSON (application/json) or an ordinary form (application/x-www-form-urlencoded, multipart/form-data).')
})
