import type { H3Event } from 'h3'
import type { Point } from '#db/points'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'

/** The live point an address names. @throws 404 when there is none, or it is not live */
export async function requireLivePoint(event: H3Event): Promise<Point & { live: NonNullable<Point['live']> }> {
  const key = event.context.params?.key ?? ''
  const point = /^[\w-]{1,80}$/.test(key) ? await applicationContext().cache.point(key) : undefined
  if (!point) throw problem(404, 'There is no such form. Check the key in the address.')
  if (!point.live) throw problem(404, 'This form is not live yet. Make it live in Cavlin, then try again.')
  return point as Point & { live: NonNullable<Point['live']> }
}
