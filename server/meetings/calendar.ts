import ical, { ICalAttendeeRole, ICalAttendeeStatus, ICalCalendarMethod, ICalEventStatus } from 'ical-generator'
import type { MeetingMail } from '#db/meetings'

/** A meeting as an iCalendar file (RFC 5545). The same id each time, so that a moved one replaces itself, and one that was called off takes itself away (RFC 5546, 3.2.2 and 3.2.5). Times in UTC, which each calendar shows in its own zone. */
export function calendarFile(m: MeetingMail): string {
  const calendar = ical({
    prodId: { company: 'Cavlin', product: 'Meetings', language: 'EN' },
    method: m.calledOff ? ICalCalendarMethod.CANCEL : ICalCalendarMethod.REQUEST,
  })
  calendar.createEvent({
    id: `${m.id}@cavlin.example`,
    sequence: m.moved,
    start: m.startsAt,
    end: new Date(m.startsAt.getTime() + m.minutes * 60_000),
    summary: `${m.leadName} and ${m.ownerName}, ${m.house}`,
    organizer: { name: m.ownerName, email: m.ownerEmail },
    status: m.calledOff ? ICalEventStatus.CANCELLED : ICalEventStatus.CONFIRMED,
    attendees: m.leadEmail
      ? [{ name: m.leadName, email: m.leadEmail, role: ICalAttendeeRole.REQ, status: ICalAttendeeStatus.ACCEPTED, rsvp: false }]
      : [],
  })
  return calendar.toString()
}
