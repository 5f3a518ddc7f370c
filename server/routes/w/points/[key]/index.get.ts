import { appendResponseHeader, defineEventHandler, getQuery, setResponseHeader } from 'h3'
import { publicPoint, withUnkept } from '#core/points/definition'
import { drawnTheme } from '#core/points/theme'
import { closedNow } from '#server/capture/closed'
import { applicationContext } from '#server/application-context'
import { personalOf } from '#server/capture/personal'
import { requireLivePoint } from '#server/capture/require-live-point'
import { withPresets } from '#server/hosted/pages'
import { limit } from '#server/limits'
import { ownAddress } from '#server/settings'
import { inTongueOf, tongueFor } from '#server/words'

export default defineEventHandler(async (event) => {
  await limit(event, 'reads')
  const plain = await requireLivePoint(event)
  const point = inTongueOf(plain, tongueFor(event, plain.live.definition)) as typeof plain
  const closed = await closedNow(point)
  const personal = await personalOf(point, getQuery(event).cavlin)
  setResponseHeader(event, 'cache-control', personal ? 'private, no-store' : 'public, max-age=10')
  if (plain.live.definition.translations.length) appendResponseHeader(event, 'vary', 'Accept-Language')
  const { definition, number } = point.live
  // Of the theme the script needs what comes of it, and the logo.
  const drawn = drawnTheme(definition.theme, ownAddress())
  const shown = withUnkept(publicPoint(point.key, number, definition), definition, (await applicationContext().cache.ruleset()).properties)
  return { ...(personal ? withPresets(shown, personal.presets) : shown), ...(closed !== null && { closed }), drawn }
})
