import { defineEventHandler, getQuery } from 'h3'
import { nameOf } from '#core/leads/lead'
import { hereAt } from '#core/trail/here'
import { foldVisit } from '#core/trail/visits'
import { briefLeads } from '#db/leads'
import { visitsNow } from '#db/trail'
import { database } from '#server/database'
import { memberOf } from '#server/session'

/** Whoever did something within this time may be there. */
const HERE_MS = 5 * 60_000
const WEEK_MS = 7 * 86_400_000
const MOST = 200
const MOST_LATELY = 40

/** Who is on the site now, with what they read and did; with `?lately`, the last visits of the week. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const sql = database()
  const lately = getQuery(event).lately !== undefined
  const now = Date.now()
  const found = await visitsNow(sql, new Date(now - (lately ? WEEK_MS : HERE_MS)), lately ? MOST_LATELY : MOST)
  const visits = lately
    ? found
    : found.filter(
        v => hereAt({ beganAt: v.beganAt.getTime(), lastAt: v.lastAt.getTime(), goneAt: v.goneAt?.getTime() ?? null }, now) !== 'gone',
      )
  const leads = new Map(
    (
      await briefLeads(
        sql,
        visits.flatMap(v => v.leadId ?? []),
      )
    ).map(l => [l.id, { ...l, name: nameOf(l) }]),
  )
  return visits.map(({ trail, leadId, ...v }) => {
    const lead = leads.get(leadId ?? '')
    return {
      ...v,
      lead: lead ? { id: lead.id, name: lead.name, fit: lead.fit, interest: lead.interest, label: lead.label, owner: lead.owner } : null,
      pages: foldVisit(trail),
    }
  })
})
