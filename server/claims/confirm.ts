import { settle } from '#core/identity/identify'
import { insertTimeline, leadForUpdate } from '#db/capture'
import { aroundClaim, claimById, confirmClaim, giveAddress, releaseLetters, settleClaim } from '#db/claims'
import type { Sql, Tx } from '#db/client'
import { confirmLead, type LetterOf } from '#db/letters'
import { proveVisitor } from '#db/trail'
import { retried } from '#server/capture/micro-batcher'
import { newId } from '#server/ids'
import { say } from '#server/live/say'

/**
 * Somebody said that an address is theirs. A lead's own is confirmed; a claimed one becomes the lead's, unless two say that
 * they are this person: then a person of the house judges. The browser that sent the entry is theirs from now on, too.
 * @returns `judge` when somebody has to look first
 */
export async function confirmAddressOf(sql: Sql, letter: LetterOf, at: number): Promise<'confirmed' | 'judge'> {
  // Somebody else may take the address at the same moment: looked at again, it is taken.
  const came = await retried(() => sql.begin(tx => letter.claimId ? confirmClaimed(tx, letter, letter.claimId, at) : confirmOwn(tx, letter, at)))
  await say(sql, { leads: [letter.leadId], jobs: true, ...(came === 'judge' && { review: true }) })
  return came
}

async function confirmOwn(tx: Tx, letter: LetterOf, at: number): Promise<'confirmed'> {
  if (await confirmLead(tx, letter.leadId, letter.recipient, new Date(at))) await tell(tx, letter, at)
  await prove(tx, letter, at)
  return 'confirmed'
}

async function confirmClaimed(tx: Tx, letter: LetterOf, id: string, at: number): Promise<'confirmed' | 'judge'> {
  const lead = await leadForUpdate(tx, letter.leadId)
  const claim = await claimById(tx, id)
  if (!lead || !claim) return 'confirmed'
  if (claim.settledAt) return claim.theirs ? 'confirmed' : 'judge'
  const isNew = await confirmClaim(tx, id, new Date(at))
  if (isNew) await tell(tx, letter, at)
  if (settle({ own: lead.email, ...await aroundClaim(tx, claim) }) === 'judge') return 'judge'
  await giveAddress(tx, { ...claim, confirmedAt: new Date(at) }, false, new Date(at))
  await settleClaim(tx, id, true, null, new Date(at))
  await releaseLetters(tx, id, new Date(at))
  return 'confirmed'
}

const tell = (tx: Tx, letter: LetterOf, at: number) => insertTimeline(tx, [{ id: newId(at), lead: letter.leadId, at, kind: 'confirmed', actor: null, payload: { email: letter.recipient } }])
const prove = async (tx: Tx, { leadId, visitorId }: LetterOf, at: number) => { if (visitorId) await proveVisitor(tx, leadId, visitorId, new Date(at)) }
