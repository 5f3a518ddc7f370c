import type { Scope } from '#core/scopes'
import type { Db } from '#db/client'

export interface ApiKey {
  id: string
  name: string
  hint: string
  createdAt: Date
  lastUsedAt: Date | null
  createdBy: string | null
  scopes: Scope[]
  expiresAt: Date | null
}

/** Keys that work, newest first; the keys themselves are nowhere. */
export const activeKeys = (db: Db) => db<ApiKey[]>`
  select k.id, k.name, k.hint, k.created_at, k.last_used_at, m.name as created_by, k.scopes, k.expires_at
  from api_key k left join member m on m.id = k.created_by where revoked_at is null order by k.created_at desc`

export async function addKey(
  db: Db,
  key: { id: string; name: string; hash: Buffer; hint: string; by: string | null; scopes: Scope[]; expires: Date | null },
): Promise<void> {
  await db`insert into api_key ${db({ id: key.id, name: key.name, hash: key.hash, hint: key.hint, created_by: key.by, scopes: key.scopes, expires_at: key.expires })}`
}

/** Takes a key out of use, or back into it. */
export async function revokeKey(db: Db, id: string, revoked: boolean): Promise<boolean> {
  return (await db`update api_key set revoked_at = ${revoked ? new Date() : null} where id = ${id}`).count === 1
}

/** What a key with this hash may do; undefined when it does not work, or no more. Notes its use, at most once a minute. */
export async function useKey(db: Db, hash: Buffer): Promise<Scope[] | undefined> {
  const [key] = await db<{ id: string; stale: boolean; scopes: Scope[] }[]>`
    select id, scopes, last_used_at is null or last_used_at < now() - interval '1 minute' as stale from api_key
    where hash = ${hash} and revoked_at is null and (expires_at is null or expires_at > now())`
  if (key?.stale) await db`update api_key set last_used_at = now() where id = ${key.id}`
  return key?.scopes
}
