import { defineEventHandler, getQuery, setResponseHeader } from 'h3'
import { publicPoint } from '#core/points/definition'
import { drawnLook } from '#core/points/look'
import { closedNow } from '#server/capture/closed'
import { personalOf } from '#server/capture/personal'
import { livePoint } from '#server/capture/the-point'
import { withPresets } from '#server/hosted/pages'
import { limit } from '#server/limits'

export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const point = await livePoint(event)
  const closed = await closedNow(point)
  const personal = await personalOf(point, getQuery(event).cavlin)
  setResponseHeader(event, 'cache-control', personal ? 'private, no-store' : 'public, max-age=10')
  // Of the look the script needs what comes of it, and the logo.
  const { look } = point.live.definition
  const drawn = drawnLook(look, process.env.CAVLIN_URL ?? '')
  const shown = publicPoint(point.key, point.live.number, point.live.definition)
  return { ...(personal ? withPresets(shown, personal.presets) : shown), ...(closed !== null && { closed }), drawn }
})
