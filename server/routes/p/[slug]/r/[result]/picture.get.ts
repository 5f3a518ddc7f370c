import { defineEventHandler, setResponseHeaders } from 'h3'
import { sharedPicture } from '#server/hosted/shared-picture'
import { sharedResult } from '#server/hosted/shared'
import { limit } from '#server/limits'
import { problem } from '#server/problem'

/** The picture of a result that is shown to others: 1200 by 630, as PNG. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const shared = await sharedResult(event, '/picture')
  if (shared && 'answer' in shared) return shared.answer
  if (!shared) throw problem(404, 'There is no such result.')
  const { definition } = shared.point.live
  const png = await sharedPicture(definition, shared.result)
  setResponseHeaders(event, {
    'content-type': 'image/png',
    'content-length': png.length,
    'cache-control': 'public, max-age=3600',
    'cross-origin-resource-policy': 'cross-origin',
  })
  return png
})
