import type { Db } from '#db/client'
import type { Member } from '#db/members'

/** How long a session lasts: without anything being asked for, and in all. In seconds. */
export interface Lasting {
  idle: number
  whole: number
}

export const openSession = (db: Db, hash: Buffer, member: string) => db`insert into session (hash, member_id) values (${hash}, ${member})`
export const endSession = async (db: Db, hash: Buffer): Promise<boolean> => (await db`delete from session where hash = ${hash}`).count > 0

/** The member whose session this is, as they are now; undefined when it has ended. Notes its use, at most once a minute. */
export async function memberOfSession(db: Db, hash: Buffer, lasting: Lasting): Promise<Member | undefined> {
  const [row] = await db<(Member & { stale: boolean })[]>`
    select m.id, m.email, m.name, m.role, s.seen_at < now() - interval '1 minute' as stale from session s join member m on m.id = s.member_id
    where s.hash = ${hash} and m.active and ${lasts(db, lasting)}`
  if (!row) return undefined
  const { stale, ...member } = row
  if (stale) await db`update session set seen_at = now() where hash = ${hash}`
  return member
}

/** Whether a session still stands; asking is no use of it. */
export const stands = async (db: Db, hash: Buffer, lasting: Lasting): Promise<boolean> =>
  (
    await db`select 1 from session s
  where s.hash = ${hash} and ${lasts(db, lasting)}`
  ).length > 0

const lasts = (db: Db, { idle, whole }: Lasting) =>
  db`s.seen_at > now() - ${idle} * interval '1 second' and s.made_at > now() - ${whole} * interval '1 second'`

/** Forgets sessions that have ended by themselves. */
export const forgetSessions = (db: Db, { idle, whole }: Lasting) => db`delete from session
  where seen_at < now() - ${idle} * interval '1 second' or made_at < now() - ${whole} * interval '1 second'`
