import type { Role } from '#core/roles'
import type { Db } from '#db/client'

export interface Member { id: string; email: string; name: string; role: Role }

/** Everybody who works here now, by name. */
export const activeMembers = (db: Db) => db<Member[]>`select id, email, name, role from member where active order by name`

export async function memberById(db: Db, id: string): Promise<Member | undefined> {
  return (await db<Member[]>`select id, email, name, role from member where id = ${id} and active`)[0]
}

/** A member with the password's hash, to check a sign-in. */
export async function memberForSignIn(db: Db, emailKey: string): Promise<(Member & { passwordHash: string }) | undefined> {
  return (await db<(Member & { passwordHash: string })[]>`select id, email, name, role, password_hash from member where email_key = ${emailKey} and active`)[0]
}

export async function addMember(db: Db, m: Member & { emailKey: string; passwordHash: string }): Promise<void> {
  await db`insert into member ${db({ id: m.id, email: m.email, email_key: m.emailKey, name: m.name, role: m.role, password_hash: m.passwordHash })}`
}

/** How often signing in failed in the last minutes: for this person from this address, and from this address at all. */
export async function recentFailures(db: Db, emailKey: string, address: string, minutes: number): Promise<{ person: number; address: number }> {
  const [row] = await db<{ person: number; address: number }[]>`
    select count(*) filter (where email_key = ${emailKey}) as person, count(*) as address
    from sign_in_failure where address = ${address} and at > now() - ${minutes} * interval '1 minute'`
  return row!
}

export async function noteFailure(db: Db, emailKey: string, address: string): Promise<void> {
  await db`insert into sign_in_failure (email_key, address) values (${emailKey}, ${address})`
  await db`delete from sign_in_failure where at < now() - interval '1 day'`
}

export const forgetFailures = (db: Db, emailKey: string, address: string) => db`delete from sign_in_failure where email_key = ${emailKey} and address = ${address}`
