import { defineEventHandler } from 'h3'
import { DateTime } from 'luxon'
import { byUrgency } from '#core/follow-up'
import { onToday } from '#db/leads'
import { applicationContext } from '#server/application-context'
import { leadView } from '#server/follow-up/view'
import { memberOf } from '#server/session'

const MOST = 300

/** Who waits for me, most pressing first; and whose next step is due by the end of today. */
export default defineEventHandler(async (event) => {
  const member = await memberOf(event)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const now = Date.now()
  const endOfDay = DateTime.fromMillis(now, { zone: ruleset.house.zone }).endOf('day').toJSDate()
  const leads = (await onToday(sql, member.id, endOfDay, MOST)).map(row => leadView(row, ruleset, now))
  return {
    waiting: leads.filter(l => l.urgency).sort((a, b) => byUrgency(a.urgency!, b.urgency!)),
    due: leads.filter(l => !l.urgency).sort((a, b) => a.nextStep!.due.localeCompare(b.nextStep!.due)),
  }
})
