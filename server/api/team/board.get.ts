import { defineEventHandler, getQuery } from 'h3'
import { validate } from 'uuid'
import type { BoardView } from '#core/team'
import { boardEnds, boardLeads, daysToWin } from '#db/board'
import { longReadings } from '#server/database'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

/** So many of each status stand on the board; the rest is counted. */
const EACH = 60
/** Of fewer won leads nothing is said. */
const FEWEST = 8
const YEAR = 365 * 86_400_000

/** The leads that are worked on, by status, beside how long won ones stood there. */
export default defineEventHandler(async (event): Promise<BoardView> => {
  await memberOf(event)
  const { owner } = getQuery(event)
  if (owner !== undefined && owner !== '' && !validate(String(owner)))
    throw problem(422, 'An owner is a member’s id.', [{ field: 'owner', message: 'Send a member’s id, or leave it out.' }])
  const of = owner ? String(owner) : null
  const sql = longReadings()
  const [leads, ends, took] = await Promise.all([
    boardLeads(sql, of, EACH),
    boardEnds(sql, of),
    daysToWin(sql, new Date(Date.now() - YEAR)),
  ])
  const statuses = [...new Set(leads.map(l => l.status))]
  return {
    columns: statuses.map(status => {
      const own = leads.filter(l => l.status === status)
      const days = took.find(t => t.status === status)?.days.toSorted((a, b) => a - b) ?? []
      return {
        status,
        total: own[0]!.total,
        range: days.length < FEWEST ? null : { low: days[0]!, high: days[Math.ceil(days.length * 0.9) - 1]! },
        leads: own.map(({ id, name, company, fit, interest, days: stood }) => ({ id, name, company, fit, interest, days: stood })),
      }
    }),
    ends: Object.fromEntries(ends.map(e => [e.status, e.leads])),
  }
})
