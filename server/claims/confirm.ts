import { settle } from '#core/identity/identify'
import { aroundClaim, claimById, confirmClaim, releaseLetters, settleClaim } from '#db/claims'
import type { Sql, Tx } from '#db/client'
import { releaseOwn, type MailOf } from '#db/mails'
import { proveVisitor } from '#db/trail'
import { retried } from '#server/ingest/micro-batcher'
import { openBatch } from '#server/ingest/change'
import { say } from '#server/live/say'
import type { Ruleset } from '#server/ruleset'

/**
 * Somebody said that an address is theirs. A lead's own is confirmed; a claimed one becomes the lead's, unless two say that
 * they are this person: then a person of the house judges. The browser that sent the entry is theirs from now on, too.
 * @returns `judge` when somebody has to look first
 */
export async function confirmAddressOf(sql: Sql, ruleset: Ruleset, mail: MailOf, at: number): Promise<'confirmed' | 'judge'> {
  // Somebody else may take the address at the same moment: looked at again, it is taken.
  const came = await retried(() =>
    sql.begin(tx => (mail.claimId ? confirmClaimed(tx, ruleset, mail, mail.claimId, at) : confirmOwn(tx, ruleset, mail, at))),
  )
  await say(sql, { leads: [mail.leadId], jobs: true, ...(came === 'judge' && { review: true }) })
  return came
}

async function confirmOwn(tx: Tx, ruleset: Ruleset, mail: MailOf, at: number): Promise<'confirmed'> {
  const { book, apply } = await openBatch(tx, ruleset, { ids: [mail.leadId], at })
  const lead = book.byId.get(mail.leadId)
  // If it is still the address that they have; what waited for that goes out.
  if (lead?.email === mail.recipient && lead.confirmedAt === null) {
    await apply([{ kind: 'confirmed', at, by: null, lead: lead.id, address: mail.recipient }])
    await releaseOwn(tx, lead.id, new Date(at))
  }
  if (mail.visitorId) await proveVisitor(tx, mail.leadId, mail.visitorId, new Date(at))
  return 'confirmed'
}

async function confirmClaimed(tx: Tx, ruleset: Ruleset, mail: MailOf, id: string, at: number): Promise<'confirmed' | 'judge'> {
  const { book, apply } = await openBatch(tx, ruleset, { ids: [mail.leadId], at })
  const lead = book.byId.get(mail.leadId)
  const claim = await claimById(tx, id)
  if (!lead || !claim) return 'confirmed'
  if (claim.settledAt) return claim.theirs ? 'confirmed' : 'judge'
  const isNew = await confirmClaim(tx, id, new Date(at))
  const becomes = settle({ own: lead.email, ...(await aroundClaim(tx, claim)) }) === 'theirs'
  const address = { address: claim.address, key: claim.emailKey, at: claim.claimedAt.getTime() }
  await apply([{ kind: 'claim_confirmed', at, by: null, lead: lead.id, claim: address, isNew, becomes }])
  if (!becomes) return 'judge'
  await settleClaim(tx, id, true, null, new Date(at))
  await releaseLetters(tx, id, new Date(at))
  return 'confirmed'
}
