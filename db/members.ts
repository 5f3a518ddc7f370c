import type { Telling } from '#core/telling/telling'
import type { Role } from '#core/roles'
import type { DaySpan } from '#core/working-time'
import type { Db, Sql } from '#db/client'

export interface Member {
  id: string
  email: string
  name: string
  role: Role
}

/** Everybody who works here now, by name. */
export const activeMembers = (db: Db) => db<Member[]>`select id, email, name, role from member where active order by name`

/** When somebody works, and how much they take on. What is null is the firm's. */
export interface Availability {
  week: DaySpan[][] | null
  zone: string | null
  mostOpen: number | null
  languages: string[]
}
export interface AbsenceRow {
  id: string
  memberId: string
  fromAt: Date
  untilAt: Date
  standIn: string | null
}
/** The same, of everybody who works here now. */
export const availabilities = (db: Db) => db<(Member & Availability & { telling: Telling | null })[]>`
  select id, email, name, role, week, zone, most_open, languages, telling from member where active order by name`
/** What reaches somebody, how and when. */
export const setTelling = (db: Db, member: string, telling: Telling) =>
  db`update member set telling = ${telling as never}::jsonb where id = ${member}`
export const setAvailability = (db: Db, member: string, a: Availability) => db`
  update member set week = ${a.week as never}::jsonb, zone = ${a.zone}, most_open = ${a.mostOpen}, languages = ${a.languages} where id = ${member}`
/** Who is away, or will be, as they go. */
export const absencesFrom = (db: Db, at: Date) => db<AbsenceRow[]>`
  select a.id, a.member_id, a.from_at, a.until_at, a.stand_in from absence a join member m on m.id = a.member_id and m.active where a.until_at > ${at} order by a.from_at, a.id`
export const addAbsence = (db: Db, a: AbsenceRow) => db`
  insert into absence (id, member_id, from_at, until_at, stand_in) values (${a.id}, ${a.memberId}, ${a.fromAt}, ${a.untilAt}, ${a.standIn})`
export const absenceOf = async (db: Db, id: string): Promise<AbsenceRow | undefined> =>
  (await db<AbsenceRow[]>`select id, member_id, from_at, until_at, stand_in from absence where id = ${id}`)[0]
export const removeAbsence = (db: Db, id: string) => db`delete from absence where id = ${id}`

export async function memberById(db: Db, id: string): Promise<Member | undefined> {
  return (await db<Member[]>`select id, email, name, role from member where id = ${id} and active`)[0]
}

/** A member with the password's hash, to check a sign-in. */
export async function memberForSignIn(db: Db, emailKey: string): Promise<(Member & { passwordHash: string }) | undefined> {
  return (
    await db<
      (Member & { passwordHash: string })[]
    >`select id, email, name, role, password_hash from member where email_key = ${emailKey} and active`
  )[0]
}

export async function addMember(db: Db, m: Member & { emailKey: string; passwordHash: string }): Promise<void> {
  await db`insert into member ${db({ id: m.id, email: m.email, email_key: m.emailKey, name: m.name, role: m.role, password_hash: m.passwordHash })}`
}

/** Whether the member with this address signed in from this network before. */
export const isKnownNetwork = async (db: Db, emailKey: string, network: string): Promise<boolean> =>
  (
    await db`select 1 from member m join member_network n on n.member_id = m.id
    where m.email_key = ${emailKey} and n.network = ${network} and n.at > now() - interval '90 days'`
  ).length > 0
export const noteNetwork = (db: Db, member: string, network: string) => db`
  insert into member_network (member_id, network, at) values (${member}, ${network}, now()) on conflict (member_id, network) do update
    set at = excluded.at where member_network.at < now() - interval '1 day'`

/** Keeps a better hash of the same password: nobody is signed out for it. */
export const keepHash = (db: Sql, member: string, hash: string) =>
  db.begin(async tx => {
    await tx`select set_config('cavlin.same_password', 'yes', true)`
    await tx`update member set password_hash = ${hash} where id = ${member}`
  })

/** Another password: whoever is signed in as this member is signed out (a trigger sees to it). */
export const setPassword = (db: Db, member: string, hash: string) => db`update member set password_hash = ${hash} where id = ${member}`

export interface MemberListing extends Member {
  active: boolean
  sessions: number
  seenAt: Date | null
}
/** Everybody who works here or did, by name, with where they are signed in. */
export const allMembers = (db: Db) => db<MemberListing[]>`
  select m.id, m.email, m.name, m.role, m.active, (select count(*)::int from session s where s.member_id = m.id) as sessions,
    (select max(seen_at) from session s where s.member_id = m.id) as seen_at
  from member m order by m.active desc, m.name`

/** Changes what a member may do; somebody stays admin. Whoever changes it at the same moment waits. */
export const changeMember = (db: Sql, id: string, role: Role, active: boolean): Promise<'done' | 'unknown' | 'last admin'> =>
  db.begin(async tx => {
    const admins = await tx<{ id: string }[]>`select id from member where role = 'admin' and active for update`
    if (admins.length === 1 && admins[0]!.id === id && (role !== 'admin' || !active)) return 'last admin' as const
    return (await tx`update member set role = ${role}, active = ${active} where id = ${id}`).count
      ? ('done' as const)
      : ('unknown' as const)
  }) as Promise<'done' | 'unknown' | 'last admin'>
