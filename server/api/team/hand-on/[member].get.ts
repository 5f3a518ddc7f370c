import { defineEventHandler } from 'h3'
import type { HandOnLead } from '#core/team'
import { openLeadsOf } from '#db/hand-on'
import { database } from '#server/database'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

const MOST = 1000

/** The open leads of somebody, to be handed on. */
export default defineEventHandler(async (event): Promise<{ leads: HandOnLead[] }> => {
  await memberOf(event, 'work leads')
  const rows = await openLeadsOf(database(), idFrom(event, 'member'), MOST)
  return {
    leads: rows.map(({ waitingSince, nextStepAt, ...row }) => ({
      ...row,
      waitingSince: waitingSince?.toISOString() ?? null,
      due: nextStepAt?.toISOString() ?? null,
    })),
  }
})
