import ical, { ICalAlarmType, ICalCalendarMethod, ICalEventStatus } from 'ical-generator'
import { STEP_WORDS } from '#core/follow-up/state'
import { meetingsWithin, stepsWithin } from '#db/calendar'
import type { Sql } from '#db/client'
import { ownAddress } from '#server/settings'

const DAY = 86_400_000
/** What lies behind is looked up for so many days, what is to come for a year. */
const [BEHIND, AHEAD] = [60 * DAY, 365 * DAY]
const MOST = 2000
const STEP_MINUTES = 15

/**
 * Next steps and meetings of a member as a calendar. A step has one id for its lead: as it moves, it moves in the calendar, and its
 * sequence counts up with what happens to the lead (RFC 5545, 3.8.7.4).
 */
export async function feedFor(sql: Sql, member: { id: string; name: string }, now: Date): Promise<string> {
  const [from, until] = [new Date(now.getTime() - BEHIND), new Date(now.getTime() + AHEAD)]
  const [steps, meetings] = await Promise.all([
    stepsWithin(sql, member.id, from, until, MOST),
    meetingsWithin(sql, member.id, from, until, MOST),
  ])
  const calendar = ical({
    name: `Cavlin: ${member.name}`,
    prodId: { company: 'Cavlin', product: 'Follow up', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
    ttl: 900,
  })
  const link = (lead: string) => `${ownAddress()}/follow-up/leads/${lead}`
  const met = new Set(meetings.map(m => `${m.leadId} ${m.startsAt.getTime()}`))
  for (const m of meetings) {
    calendar.createEvent({
      id: `meeting-${m.id}@cavlin`,
      start: m.startsAt,
      end: m.endsAt,
      stamp: now,
      sequence: m.moved,
      status: ICalEventStatus.CONFIRMED,
      summary: `Meet ${m.name}${m.company ? `, ${m.company}` : ''}`,
      url: link(m.leadId),
    })
  }
  for (const s of steps) {
    if (met.has(`${s.id} ${s.due.getTime()}`)) continue
    const { kind = 'other', remind = [] } = s.followUp.step ?? {}
    const event = calendar.createEvent({
      id: `step-${s.id}@cavlin`,
      start: s.due,
      end: new Date(s.due.getTime() + STEP_MINUTES * 60_000),
      stamp: now,
      sequence: s.version,
      summary: `${kind === 'other' ? '' : `${STEP_WORDS[kind]}: `}${s.text} (${s.name})`,
      description: [s.company, s.phone].filter(Boolean).join('\n'),
      url: link(s.id),
    })
    for (const minutes of remind) event.createAlarm({ type: ICalAlarmType.display, trigger: minutes * 60, description: s.text })
  }
  return calendar.toString()
}
