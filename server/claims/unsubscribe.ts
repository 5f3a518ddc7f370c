import { dropClaimed } from '#db/claims'
import type { Tx } from '#db/client'
import { dropWaiting, type LetterOf } from '#db/letters'
import { openBatch } from '#server/ingest/change'
import type { Ruleset } from '#server/ruleset'

/**
 * Somebody wants no more mail: nothing that waits goes out. Who got a mail at an address that is not the lead's leaves for that
 * address, and not for the lead.
 */
export async function unsubscribe(tx: Tx, ruleset: Ruleset, letter: LetterOf, at: number): Promise<void> {
  if (!letter.own) return void (letter.claimId && await dropClaimed(tx, letter.claimId))
  const { book, apply } = await openBatch(tx, ruleset, { ids: [letter.leadId], at })
  if (book.byId.get(letter.leadId)?.leftAt === null) await apply([{ kind: 'unsubscribed', at, by: null, lead: letter.leadId, address: letter.recipient }])
  await dropWaiting(tx, letter.leadId)
}
