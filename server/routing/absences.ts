import { DateTime } from 'luxon'
import { may } from '#core/roles'
import type { AbsenceView } from '#core/team'
import type { AbsenceRow, Member } from '#db/members'
import { problem } from '#server/problem'

/** Everybody says when they are away themselves; whoever makes the plan says it of all. @throws 403 */
export function maySetAway(by: Member, member: string): void {
  if (by.id !== member && !may(by.role, 'edit plan')) throw problem(403, 'You can say when you are away; managers say it of colleagues.')
}

/** An absence with its first and last day, in the zone in which somebody works. */
export function absenceView({ id, fromAt, untilAt, standIn }: AbsenceRow, zone: string): AbsenceView {
  const dayOf = (at: Date, less = 0) => DateTime.fromMillis(at.getTime() - less, { zone }).toISODate()!
  return { id, from: fromAt.toISOString(), until: untilAt.toISOString(), firstDay: dayOf(fromAt), lastDay: dayOf(untilAt, 1), standIn }
}
