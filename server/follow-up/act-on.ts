import { setResponseStatus, type H3Event } from 'h3'
import { leadById } from '#db/leads'
import { standingFor } from '#db/merges'
import { applicationContext } from '#server/application-context'
import { carryOut, type LeadAct } from '#server/follow-up/acts'
import { leadView } from '#server/follow-up/view'
import { retried } from '#server/ingest/micro-batcher'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

/**
 * Answers a request to do something about a lead: does it, tells everybody, gives the lead as it is then.
 * @param read what is to be done, out of the request; read only for who may do it
 */
export async function actOn(event: H3Event, read: () => Promise<LeadAct>) {
  const member = await memberOf(event, 'work leads')
  const lead = idFrom(event)
  const act = await read()
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const step = await retried(() => sql.begin(tx => carryOut(tx, ruleset, lead, member.id, act, new Date())))
  // Whoever went into another is meant by it.
  const row = (await leadById(sql, lead)) ?? (await leadById(sql, await standingFor(sql, lead)))!
  await say(sql, {
    leads: [lead, row.id],
    notices: [...new Set([member.id, ...(row.ownerId ? [row.ownerId] : []), ...step.notices.map(n => n.to)])],
  })
  setResponseStatus(event, 200)
  // By its version the act can be taken back.
  return { ...leadView(row, ruleset, Date.now()), version: step.lead.version }
}
