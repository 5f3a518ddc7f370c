import type { H3Event } from 'h3'
import type { Result } from '#core/quiz/shapes'
import type { Point } from '#db/points'
import { atAddress } from '#server/hosted/at'
import { inTongueOf, tongueFor } from '#server/words'

type Live = Point & { live: NonNullable<Point['live']> }

/** The result of a live quiz that an address shows to others; null when there is none, or it is not to be shown; an answer when it moved. */
export async function sharedResult(event: H3Event, behind = ''): Promise<{ point: Live; result: Result } | { answer: unknown } | null> {
  const key = event.context.params?.result ?? ''
  const at = await atAddress(event, `/r/${/^[a-z][a-z0-9_]{0,49}$/.test(key) ? key : ''}${behind}`)
  if ('answer' in at) return at
  const { point } = at
  if (point.kind === 'page' || !point.live?.definition.quiz?.share) return null
  const spoken = inTongueOf(point, tongueFor(event, point.live.definition)) as Live
  const result = spoken.live.definition.quiz!.results.find(r => r.key === key)
  return result ? { point: spoken, result } : null
}
