import type { FollowUp } from '#core/follow-up/state'
import type { Db } from '#db/client'

export interface StepRow {
  id: string
  name: string
  company: string | null
  phone: string | null
  ownerId: string | null
  text: string
  due: Date
  followUp: FollowUp
  version: number
}
const NAME = `coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone', 'Somebody')`
/** Next steps that are due within some time, of one owner or of all, as they come. */
export const stepsWithin = (db: Db, owner: string | null, from: Date, until: Date, most: number) => db<StepRow[]>`
  select l.id, ${db.unsafe(NAME)} as name, l.company, l.properties->>'phone' as phone, l.owner_id, l.next_step as text, l.next_step_at as due, l.follow_up, l.version
  from lead l where l.next_step_at >= ${from} and l.next_step_at < ${until} ${owner ? db`and l.owner_id = ${owner}` : db``} order by l.next_step_at, l.id limit ${most}`

export interface MeetingRow {
  id: string
  leadId: string
  name: string
  company: string | null
  memberId: string
  startsAt: Date
  endsAt: Date
  moved: number
}
/** Meetings within some time, of one member or of all, as they come. */
export const meetingsWithin = (db: Db, member: string | null, from: Date, until: Date, most: number) => db<MeetingRow[]>`
  select m.id, m.lead_id, ${db.unsafe(NAME)} as name, l.company, m.member_id, m.starts_at, m.ends_at, m.moved
  from meeting m join lead l on l.id = m.lead_id where m.called_off_at is null and m.starts_at >= ${from} and m.starts_at < ${until} ${member ? db`and m.member_id = ${member}` : db``} order by m.starts_at, m.id limit ${most}`

/** Whose calendar is read under an address, by its fingerprint. */
export const memberByCalendar = async (db: Db, fingerprint: string): Promise<{ id: string; name: string } | undefined> =>
  (await db<{ id: string; name: string }[]>`select id, name from member where calendar_key = ${fingerprint} and active`)[0]
export const setCalendarKey = (db: Db, member: string, fingerprint: string | null) =>
  db`update member set calendar_key = ${fingerprint} where id = ${member}`
export const hasCalendarKey = async (db: Db, member: string): Promise<boolean> =>
  (await db<{ has: boolean }[]>`select calendar_key is not null as has from member where id = ${member}`)[0]?.has ?? false
