import { defineEventHandler, getQuery } from 'h3'
import { validate } from 'uuid'
import type { CalendarView } from '#core/team'
import { hasCalendarKey, meetingsWithin, stepsWithin } from '#db/calendar'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

const MOST = 500
const LONGEST = 70 * 86_400_000

/** What is to be done within some time, of one member or of all: next steps and meetings. */
export default defineEventHandler(async (event): Promise<CalendarView> => {
  const member = await memberOf(event)
  const query = getQuery(event)
  const [from, until] = [query.from, query.until].map(at => Date.parse(String(at)))
  const wrong = (field: string, message: string) => problem(422, 'The query cannot be read; see the list.', [{ field, message }])
  if (Number.isNaN(from)) throw wrong('from', 'Send a moment, as 2026-05-01T00:00:00Z.')
  if (Number.isNaN(until) || until! <= from! || until! - from! > LONGEST)
    throw wrong('until', 'Send a later moment, at most ten weeks behind the first.')
  const { owner } = query
  if (owner !== undefined && owner !== '' && !validate(String(owner))) throw wrong('owner', 'Send a member’s id, or leave it out.')
  const of = owner ? String(owner) : null
  const { sql } = applicationContext()
  const [steps, meetings, hasFeed] = await Promise.all([
    stepsWithin(sql, of, new Date(from!), new Date(until!), MOST),
    meetingsWithin(sql, of, new Date(from!), new Date(until!), MOST),
    hasCalendarKey(sql, member.id),
  ])
  const met = new Set(meetings.map(m => `${m.leadId} ${m.startsAt.getTime()}`))
  return {
    hasFeed,
    items: [
      ...meetings.map(m => ({
        lead: m.leadId,
        name: m.name,
        company: m.company,
        owner: m.memberId,
        text: `Meet ${m.name}`,
        kind: 'meeting' as const,
        at: m.startsAt.toISOString(),
        until: m.endsAt.toISOString(),
      })),
      // A meeting is the next step of its lead, too.
      ...steps
        .filter(s => !met.has(`${s.id} ${s.due.getTime()}`))
        .map(s => ({
          lead: s.id,
          name: s.name,
          company: s.company,
          owner: s.ownerId,
          text: s.text,
          kind: s.followUp.step?.kind ?? ('other' as const),
          at: s.due.toISOString(),
          until: null,
        })),
    ].sort((a, b) => a.at.localeCompare(b.at)),
  }
})
