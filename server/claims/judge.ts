import { claimById, dropClaimed, releaseLetters, setAddressAside, settleClaim } from '#db/claims'
import type { Sql } from '#db/client'
import { newId } from '#server/ids'
import { openBatch } from '#server/ingest/change'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

/**
 * A member says whether a claimed address is a lead's. If it is, it takes the place of the one that they had.
 * @throws 404, 409 when somebody else has judged, or another lead has the address
 */
export async function judgeClaim(sql: Sql, ruleset: Ruleset, lead: string, id: string, theirs: boolean, by: string): Promise<void> {
  const at = new Date()
  try {
    await sql.begin(async tx => {
      const { book, apply } = await openBatch(tx, ruleset, { ids: [lead], at: at.getTime() })
      const claim = await claimById(tx, id)
      if (!book.byId.has(lead) || claim?.leadId !== lead) throw problem(404, 'There is no such address on this lead.')
      if (claim.settledAt) throw problem(409, 'Somebody else has judged this address in the meantime.')
      if (theirs) await setAddressAside(tx, newId(), lead, by, at)
      const address = { address: claim.address, key: claim.emailKey, confirmedAt: claim.confirmedAt?.getTime() ?? null }
      await apply([{ kind: 'judged', at: at.getTime(), by, lead, claim: address, theirs }])
      await (theirs ? releaseLetters(tx, id, at) : dropClaimed(tx, id))
      await settleClaim(tx, id, theirs, by, at)
    })
  } catch (error) {
    if ((error as { code?: string }).code === '23505')
      throw problem(409, 'Another lead has this address: one of the two is the same person, or the address is not theirs.')
    throw error
  }
}

/** A member vouches for the address of a lead: what is known from before may go to it again. @throws 404 when there is nothing to vouch for */
export async function vouchFor(sql: Sql, ruleset: Ruleset, lead: string, by: string): Promise<void> {
  const at = Date.now()
  await sql.begin(async tx => {
    const { book, apply } = await openBatch(tx, ruleset, { ids: [lead], at })
    if ((book.byId.get(lead)?.guardedAt ?? null) === null) throw problem(404, 'There is no address here that somebody has to vouch for.')
    await apply([{ kind: 'vouched', at, by, lead }])
  })
}
