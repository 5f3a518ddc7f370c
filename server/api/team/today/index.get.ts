import { defineEventHandler } from 'h3'
import { DateTime } from 'luxon'
import { byUrgency } from '#core/follow-up/urgency'
import { lostInAnHour } from '#core/follow-up/waiting-cost'
import { may } from '#core/roles'
import type { TodayLead, TodayView } from '#core/team'
import { workingMinutes } from '#core/working-time'
import { onToday } from '#db/leads'
import { waitingForReview } from '#db/review'
import { repliesThatWait } from '#db/waiting-cost'
import { applicationContext } from '#server/application-context'
import { leadView } from '#server/follow-up/view'
import { waitingCost } from '#server/follow-up/waiting-cost'
import { memberOf } from '#server/session'

const MOST = 300
/** What was set for a time is done within a working day of it, or it counts as one promise that passed. */
const STEP_MINUTES = 480

/** Who waits for me, and whose next step is due by the end of today: in the order of what is lost by waiting. */
export default defineEventHandler(async (event): Promise<TodayView> => {
  const member = await memberOf(event)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const now = Date.now()
  const endOfDay = DateTime.fromMillis(now, { zone: ruleset.house.zone }).endOf('day').toJSDate()
  const [rows, cost, review] = await Promise.all([
    onToday(sql, member.id, endOfDay, MOST),
    waitingCost(sql, ruleset, now),
    may(member.role, 'judge entries') ? waitingForReview(sql) : null,
  ])
  const replies = new Map(
    (
      await repliesThatWait(
        sql,
        rows.map(r => r.id),
      )
    ).map(r => [r.lead, { at: r.at.toISOString(), subject: r.subject }]),
  )
  const hours = ruleset.members.get(member.id)?.hours ?? ruleset.house.hours
  const leads = rows.map((row): TodayLead => {
    const lead = leadView(row, ruleset, now)
    const late = row.nextStepAt && row.nextStepAt.getTime() < now ? workingMinutes(row.nextStepAt.getTime(), now, hours) : null
    const loss = Math.max(
      lead.urgency ? lostInAnHour(cost, row.label, lead.urgency.waited, lead.urgency.target) : 0,
      late === null ? 0 : lostInAnHour(cost, row.label, late, STEP_MINUTES),
    )
    return { ...lead, loss, reply: (lead.urgency && replies.get(row.id)) ?? null }
  })
  return {
    waiting: leads.filter(l => l.urgency).sort((a, b) => b.loss - a.loss || byUrgency(a.urgency!, b.urgency!)),
    due: leads.filter(l => !l.urgency).sort((a, b) => b.loss - a.loss || a.nextStep!.due.localeCompare(b.nextStep!.due)),
    cost,
    review,
  }
})
