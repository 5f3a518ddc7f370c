import type { Db, Tx } from '#db/client'

export interface Meeting {
  id: string
  entryId: string
  leadId: string
  memberId: string
  startsAt: Date
  minutes: number
  moved: number
  /** It does not take place. */ calledOffAt?: Date | null
}

/** The meeting that somebody has through a point: of this entry, or one to come of an earlier one. There is at most one to come. */
export async function meetingOf(db: Db, lead: string, point: string, entry: string): Promise<Meeting | undefined> {
  return (
    await db<Meeting[]>`
    select m.id, m.entry_id, m.lead_id, m.member_id, m.starts_at, m.minutes, m.moved from meeting m join entry e on e.id = m.entry_id
    where m.lead_id = ${lead} and m.called_off_at is null and (m.entry_id = ${entry} or (e.point_id = ${point} and m.starts_at > now()))
      order by m.starts_at > now() desc, m.entry_id = ${entry} desc limit 1`
  )[0]
}

/** When a member is taken within some time. */
export const takenTimes = (db: Db, member: string, from: Date, until: Date) => db<{ id: string; startsAt: Date; minutes: number }[]>`
  select id, starts_at, minutes from meeting where member_id = ${member} and called_off_at is null and starts_at > ${from}::timestamptz - interval '4 hours' and starts_at < ${until}`

/**
 * Keeps a meeting, or moves the one that there is.
 * @param before the id of the one that is moved
 * @throws a PostgreSQL error 23P01 when the member is taken then
 */
export async function keepMeeting(tx: Tx, m: Omit<Meeting, 'moved'> & { madeAt: Date }, before: string | null): Promise<Meeting> {
  const ends = new Date(m.startsAt.getTime() + m.minutes * 60_000)
  const returned = tx`returning id, entry_id, lead_id, member_id, starts_at, minutes, moved`
  const [row] = before
    ? await tx<
        Meeting[]
      >`update meeting set starts_at = ${m.startsAt}, ends_at = ${ends}, minutes = ${m.minutes}, member_id = ${m.memberId}, moved = moved + 1 where id = ${before} ${returned}`
    : await tx<Meeting[]>`insert into meeting (id, entry_id, lead_id, member_id, starts_at, ends_at, minutes, made_at)
        values (${m.id}, ${m.entryId}, ${m.leadId}, ${m.memberId}, ${m.startsAt}, ${ends}, ${m.minutes}, ${m.madeAt})
        on conflict (entry_id) do update set starts_at = excluded.starts_at, ends_at = excluded.ends_at, minutes = excluded.minutes, member_id = excluded.member_id,
          called_off_at = null, moved = meeting.moved + 1 ${returned}`
  return row!
}

/** Calls a meeting off that is still to come. @returns it, as it was; undefined when it was called off before, or is over */
export const callOff = async (tx: Tx, lead: string, id: string): Promise<Meeting | undefined> =>
  (
    await tx<
      Meeting[]
    >`update meeting set called_off_at = now(), moved = moved + 1 where id = ${id} and lead_id = ${lead} and called_off_at is null and ends_at > now()
    returning id, entry_id, lead_id, member_id, starts_at, minutes, moved`
  )[0]

/** The meetings of a lead that are still to come. */
export const meetingsToCome = (db: Db, lead: string) => db<Meeting[]>`
  select id, entry_id, lead_id, member_id, starts_at, minutes, moved from meeting where lead_id = ${lead} and called_off_at is null and ends_at > now() order by starts_at`

export interface MeetingMail {
  calledOff: boolean
  id: string
  startsAt: Date
  minutes: number
  moved: number
  ownerName: string
  ownerEmail: string
  leadName: string
  leadEmail: string | null
  house: string
  zone: string
}
/** A meeting with all that its calendar file says. */
export async function meetingToMail(db: Db, entry: string): Promise<MeetingMail | undefined> {
  return (
    await db<MeetingMail[]>`
    select m.called_off_at is not null as called_off, m.id, m.starts_at, m.minutes, m.moved, o.name as owner_name, o.email as owner_email, coalesce(nullif(trim(concat_ws(' ', l.first_name, l.last_name)), ''), l.email, l.properties->>'phone', 'Somebody') as lead_name,
      l.email as lead_email, h.name as house, h.zone
    from meeting m join member o on o.id = m.member_id join lead l on l.id = m.lead_id cross join house h where m.entry_id = ${entry}`
  )[0]
}
