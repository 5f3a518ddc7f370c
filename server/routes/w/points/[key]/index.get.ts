import { appendResponseHeader, defineEventHandler, getQuery, setResponseHeader, type H3Event } from 'h3'
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

export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const plain = await asShown(event, await requireLivePoint(event))
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

type Live = Awaited<ReturnType<typeof requireLivePoint>>
/** A quiz in the edition that somebody is in the middle of: `?edition=`. Everything else as it is live, and so an edition that there is not. */
async function asShown(event: H3Event, point: Live): Promise<Live> {
  const number = Number(getQuery(event).edition)
  if (!point.live.definition.quiz || !Number.isInteger(number) || number < 1 || number > 1_000_000) return point
  const edition = await applicationContext().cache.edition(point, number)
  return edition ? { ...point, live: { ...point.live, ...edition } } : point
}
