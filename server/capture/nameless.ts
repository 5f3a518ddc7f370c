import type { H3Event } from 'h3'
import type { Nameless } from '#core/capture/nameless'
import { foreignText } from '#core/points/refusals'
import { inTongue } from '#core/points/translations'
import { sayIn } from '#core/languages/say'
import { keepNameless } from '#db/nameless'
import type { Page, Point } from '#db/points'
import { applicationContext } from '#server/application-context'
import { closedNow } from '#server/capture/closed'
import { resultOf } from '#server/capture/next'
import { isAllowed } from '#server/capture/received'
import { problem } from '#server/problem'

/**
 * Keeps that somebody nameless finished a quiz, and tells what they came to. What a guard caught gets its result, too, and is not kept.
 * @returns what it is kept under
 * @throws 410 while the quiz is closed, 403 where it may not be sent from
 */
export async function finishNameless(event: H3Event, point: Point, page: Page | null, n: Nameless): Promise<{ id: string; html: string }> {
  const spoken = inTongue(n.edition.definition, n.language)
  const closed = await closedNow({ ...point, live: { ...point.live!, definition: spoken } })
  if (closed !== null) throw problem(410, closed)
  if (!(await isAllowed(event, n.edition.definition))) throw problem(403, foreignText(n.edition.definition.guards, sayIn(n.language)))
  const id = n.isSuspect ? n.id : await applicationContext().sql.begin(tx => keepNameless(tx, { ...n, landing: page?.id ?? null }))
  return { id, html: resultOf(spoken, { slug: page?.slug ?? point.slug, point: point.slug }, n.judged, n.answers) }
}
