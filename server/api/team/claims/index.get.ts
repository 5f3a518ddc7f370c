import { defineEventHandler } from 'h3'
import { nameOf } from '#core/leads/lead'
import type { ClaimToJudge } from '#core/team'
import { claimsToJudge } from '#db/claims'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** Addresses that were confirmed for a person whom somebody else is, too: somebody has to judge. */
export default defineEventHandler(async (event): Promise<ClaimToJudge[]> => {
  await memberOf(event, 'judge entries')
  return (await claimsToJudge(database(), 200)).map(({ id, leadId, address, confirmedAt, elsewhere, ...lead }) => ({
    id, lead: leadId, name: nameOf(lead), company: lead.company, own: lead.email, address, confirmedAt: confirmedAt.toISOString(), elsewhere,
  }))
})
