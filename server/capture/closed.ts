import { openness } from '#core/points/closing'
import { shutText } from '#core/points/refusals'
import { entriesTaken } from '#db/book'
import type { Point } from '#db/points'
import { database } from '#server/database'
import { sayIn } from '#core/languages/say'

/** What visitors of a live point read instead of its questions, while it takes no entries; null when it is open. */
export async function closedNow(point: Point): Promise<string | null> {
  const { closing, language } = point.live!.definition
  const taken = closing.entries === null ? 0 : ((await entriesTaken(database(), [point.id]))[0]?.entries ?? 0)
  const how = openness(closing, Date.now(), taken)
  return how === 'open' ? null : shutText(closing, how, sayIn(language))
}
