import { dropClaimed } from '#db/claims'
import type { Tx } from '#db/client'
import { dropWaiting, type MailOf } from '#db/mails'
import { openBatch } from '#server/ingest/change'
import type { Ruleset } from '#server/ruleset'

/**
 * Somebody wants no more mail: nothing that waits goes out. Who got a mail at an address that is not the lead's leaves for that
 * address, and not for the lead.
 */
export async function unsubscribe(tx: Tx, ruleset: Ruleset, mail: MailOf, at: number): Promise<void> {
  if (!mail.own) return void (mail.claimId && (await dropClaimed(tx, mail.claimId)))
  const { book, apply } = await openBatch(tx, ruleset, { ids: [mail.leadId], at })
  if (book.byId.get(mail.leadId)?.unsubscribedAt === null)
    await apply([{ kind: 'unsubscribed', at, by: null, lead: mail.leadId, address: mail.recipient }])
  await dropWaiting(tx, mail.leadId)
}
