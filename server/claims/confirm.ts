import { settle } from '#core/identity/identify'
import { aroundClaim, claimById, confirmClaim, releaseLetters, settleClaim } from '#db/claims'
import type { Sql, Tx } from '#db/client'
import { releaseOwn, type LetterOf } from '#db/letters'
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
export async function confirmAddressOf(sql: Sql, ruleset: Ruleset, letter: LetterOf, at: number): Promise<'confirmed' | 'judge'> {
  // Somebody else may take the address at the same moment: looked at again, it is taken.
  const came = await retried(() => sql.begin(tx => letter.claimId ? confirmClaimed(tx, ruleset, letter, letter.claimId, at) : confirmOwn(tx, ruleset, letter, at)))
  await say(sql, { leads: [letter.leadId], jobs: true, ...(came === 'judge' && { review: true }) })
  return came
}

async function confirmOwn(tx: Tx, ruleset: Ruleset, letter: LetterOf, at: number): Promise<'confirmed'> {
  const { book, apply } = await openBatch(tx, ruleset, { ids: [letter.leadId], at })
  const lead = book.byId.get(letter.leadId)
  // If it is still the address that they have; what waited for that goes out.
  if (lead?.email === letter.recipient && lead.confirmedAt === null) {
    await apply([{ kind: 'confirmed', at, by: null, lead: lead.id, address: letter.recipient }])
    await releaseOwn(tx, lead.id, new Date(at))
  }
  if (letter.visitorId) await proveVisitor(tx, letter.leadId, letter.visitorId, new Date(at))
  return 'confirmed'
}

async function confirmClaimed(tx: Tx, ruleset: Ruleset, letter: LetterOf, id: string, at: number): Promise<'confirmed' | 'judge'> {
  const { book, apply } = await openBatch(tx, ruleset, { ids: [letter.leadId], at })
  const lead = book.byId.get(letter.leadId)
  const claim = await claimById(tx, id)
  if (!lead || !claim) return 'confirmed'
  if (claim.settledAt) return claim.theirs ? 'confirmed' : 'judge'
  const isNew = await confirmClaim(tx, id, new Date(at))
  const becomes = settle({ own: lead.email, ...await aroundClaim(tx, claim) }) === 'theirs'
  const address = { address: claim.address, key: claim.emailKey, at: claim.claimedAt.getTime() }
  await apply([{ kind: 'claim_confirmed', at, by: null, lead: lead.id, claim: address, isNew, becomes }])
  if (!becomes) return 'judge'
  await settleClaim(tx, id, true, null, new Date(at))
  await releaseLetters(tx, id, new Date(at))
  return 'confirmed'
}
