import { defineEventHandler, getQuery } from 'h3'
import { validate } from 'uuid'
import { isLate } from '#core/routing/dry-run'
import type { PlanRunPeople } from '#core/team'
import { ranLeads } from '#db/plan-run'
import { applicationContext } from '#server/application-context'
import { wholeNumber } from '#server/follow-up/listing'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'

const MOST = 100

/** The leads behind a figure of the dry run: `?which=draft|live`, and of it `member` (`none`: nobody), `lane`, `what=late|over`, `from`. */
export default defineEventHandler(async (event): Promise<PlanRunPeople> => {
  await memberOf(event)
  const query = Object.fromEntries(Object.entries(getQuery(event)).map(([k, v]) => [k, String([v].flat()[0] ?? '')])) as Record<
    string,
    string | undefined
  >
  const { which, member, lane, what } = query
  const wrong = (field: string, message: string) => problem(422, 'The query cannot be read; see the list.', [{ field, message }])
  if (which !== 'draft' && which !== 'live') throw wrong('which', 'Send which=draft or which=live.')
  if (member !== undefined && member !== 'none' && !validate(member)) throw wrong('member', 'A member’s id, or “none”.')
  if (what !== undefined && what !== 'late' && what !== 'over') throw wrong('what', 'Send what=late or what=over, or leave it out.')
  const from = wholeNumber(query.from, 'from', 0, 0, 10_000_000)
  const filter = {
    which: (which === 'live' ? 0 : 1) as 0 | 1,
    ...(member !== undefined && { member: member === 'none' ? null : member }),
    ...(lane !== undefined && { lane: lane.slice(0, 200) }),
    ...(what && { what: what as 'late' | 'over' }),
  }
  const rows = await ranLeads(applicationContext().sql, filter, from, MOST)
  return {
    total: rows[0]?.total ?? 0,
    leads: rows.map(({ total: _, ...r }) => ({
      ...r,
      came: r.came.toISOString(),
      at: r.at.toISOString(),
      late: r.member !== null && isLate({ came: r.came.getTime(), at: r.at.getTime() }),
    })),
  }
})
