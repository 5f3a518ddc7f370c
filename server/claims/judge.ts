import { insertTimeline, leadForUpdate } from '#db/capture'
import { claimById, dropClaimed, giveAddress, releaseLetters, setAddressAside, settleClaim, vouch } from '#db/claims'
import type { Sql } from '#db/client'
import { newId } from '#server/ids'
import { problem } from '#server/problem'

/**
 * A member says whether a claimed address is a lead's. If it is, it takes the place of the one that they had.
 * @throws 404, 409 when somebody else has judged, or another lead has the address
 */
export async function judgeClaim(sql: Sql, lead: string, id: string, theirs: boolean, by: string): Promise<void> {
  const at = new Date()
  try {
    await sql.begin(async (tx) => {
      const state = await leadForUpdate(tx, lead)
      const claim = await claimById(tx, id)
      if (!state || claim?.leadId !== lead) throw problem(404, 'There is no such address on this lead.')
      if (claim.settledAt) throw problem(409, 'Somebody else has judged this address in the meantime.')
      if (theirs) {
        await setAddressAside(tx, newId(), lead, by, at)
        await giveAddress(tx, claim, true, at)
        await releaseLetters(tx, id, at)
      } else await dropClaimed(tx, id)
      await settleClaim(tx, id, theirs, by, at)
      await insertTimeline(tx, [{ id: newId(at.getTime()), lead, at: at.getTime(), kind: 'judged', actor: by, payload: { email: claim.address, theirs } }])
    })
  } catch (error) {
    if ((error as { code?: string }).code === '23505') throw problem(409, 'Another lead has this address: one of the two is the same person, or the address is not theirs.')
    throw error
  }
}

/** A member vouches for the address of a lead: what is known from before may go to it again. @throws 404 when there is nothing to vouch for */
export async function vouchFor(sql: Sql, lead: string, by: string): Promise<void> {
  const at = new Date()
  await sql.begin(async (tx) => {
    const state = await leadForUpdate(tx, lead)
    if (!state || !await vouch(tx, lead, at)) throw problem(404, 'There is no address here that somebody has to vouch for.')
    await insertTimeline(tx, [{ id: newId(at.getTime()), lead, at: at.getTime(), kind: 'judged', actor: by, payload: { email: state.email!, theirs: true } }])
  })
}
