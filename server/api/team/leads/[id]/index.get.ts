import { defineEventHandler, sendRedirect } from 'h3'
import { claimsOf } from '#db/claims'
import { leadById } from '#db/leads'
import { mergesOf, standFor } from '#db/merges'
import { listsOf } from '#db/lists'
import { meetingsToCome } from '#db/meetings'
import { needsOf } from '#core/leads/needs'
import { besideLeads } from '#db/beside'
import { visitorsOfLead } from '#db/trail'
import { applicationContext } from '#server/application-context'
import { timelineFor } from '#server/follow-up/timeline'
import { leadView } from '#server/follow-up/view'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom } from '#server/wire'

const SOURCES = needsOf([{ attribute: 'source.first', is: 'filled' }])

/** As much as anybody reads before they ask for more. */
const FIRST = 60

/** A lead with the newest part of its timeline. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const id = idFrom(event)
  const ruleset = await cache.ruleset()
  const [row, timeline, lists, browsers, sources, claims, merges, meetings] = await Promise.all([
    leadById(sql, id),
    timelineFor(sql, ruleset, id, null, FIRST),
    listsOf(sql, id),
    visitorsOfLead(sql, id),
    besideLeads(sql, sql`select ${id}::uuid as id`, SOURCES, Date.now()).then(found => found.get(id)?.visits),
    claimsOf(sql, id),
    mergesOf(sql, id),
    meetingsToCome(sql, id),
  ])
  if (!row) {
    const root = (await standFor(sql, [id])).get(id)
    // It went into another, and is read there.
    if (root) return sendRedirect(event, `/api/team/leads/${root}`, 308)
    throw problem(404, 'There is no such lead.')
  }
  return {
    lead: leadView(row, ruleset, Date.now()),
    timeline,
    lists,
    browsers,
    sources: { first: sources?.first?.source ?? null, latest: sources?.latest?.source ?? null },
    claims: claims.map(c => ({ id: c.id, address: c.address, at: c.claimedAt, confirmed: c.confirmedAt !== null })),
    meetings: meetings.map(m => ({ id: m.id, starts: m.startsAt.toISOString(), minutes: m.minutes, with: m.memberId })),
    merges: merges.map(m => ({ ...m, at: m.at.toISOString() })),
  }
})
