import { joinBrowser } from '#core/leads/join-browser'
import type { Tx } from '#db/client'
import { spansOf, writeJoined } from '#db/trail'
import { newId } from '#server/ids'

/** Says whose a browser is from now on; what it did before counts for nobody by that. */
export async function joinTo(tx: Tx, visitor: string, lead: string, at: number): Promise<void> {
  const spans = (await spansOf(tx, [visitor])).get(visitor) ?? []
  await Promise.all(writeJoined(tx, [joinBrowser(spans, visitor, lead, at, newId)]))
}
