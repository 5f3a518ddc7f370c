import type { Db, Tx } from '#db/client'

export interface Meeting { id: string; entryId: string; leadId: string; memberId: string; startsAt: Date; minutes: number; moved: number }

export async function meetingOf(db: Db, entry: string): Promise<Meeting | undefined> {
  return (await db<Meeting[]>`select id, entry_id, lead_id, member_id, starts_at, minutes, moved from meeting where entry_id = ${entry}`)[0]
}

/** When a member is taken within some time. */
export const takenTimes = (db: Db, member: string, from: Date, until: Date) => db<{ entryId: string; startsAt: Date; minutes: number }[]>`
  select entry_id, starts_at, minutes from meeting where member_id = ${member} and starts_at > ${from}::timestamptz - interval '4 hours' and starts_at < ${until}`

/**
 * Keeps a meeting, or moves the one that the entry has.
 * @throws a PostgreSQL error 23P01 when the member is taken then
 */
export async function keepMeeting(tx: Tx, m: Omit<Meeting, 'moved'> & { madeAt: Date }): Promise<Meeting> {
  const [row] = await tx<Meeting[]>`
    insert into meeting (id, entry_id, lead_id, member_id, starts_at, ends_at, minutes, made_at)
    values (${m.id}, ${m.entryId}, ${m.leadId}, ${m.memberId}, ${m.startsAt}, ${new Date(m.startsAt.getTime() + m.minutes * 60_000)}, ${m.minutes}, ${m.madeAt})
    on conflict (entry_id) do update set starts_at = excluded.starts_at, ends_at = excluded.ends_at, minutes = excluded.minutes, member_id = excluded.member_id, moved = meeting.moved + 1
    returning id, entry_id, lead_id, member_id, starts_at, minutes, moved`
  return row!
}

export interface MeetingMail { id: string; startsAt: Date; minutes: number; moved: number; ownerName: string; ownerEmail: string; leadName: string; leadEmail: string | null; house: string; zone: string }
/** A meeting with all that its calendar file says. */
export async function meetingToMail(db: Db, entry: string): Promise<MeetingMail | undefined> {
  return (await db<MeetingMail[]>`
    select m.id, m.starts_at, m.minutes, m.moved, o.name as owner_name, o.email as owner_email, coalesce(nullif(trim(concat_ws(' ', l.first_name, l.last_name)), ''), l.email, l.properties->>'phone', 'Somebody') as lead_name,
      l.email as lead_email, h.name as house, h.zone
    from meeting m join member o on o.id = m.member_id join lead l on l.id = m.lead_id cross join house h where m.entry_id = ${entry}`)[0]
}
