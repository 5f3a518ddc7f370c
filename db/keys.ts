import type { Db } from '#db/client'

export interface ApiKey { id: string; name: string; hint: string; createdAt: Date; lastUsedAt: Date | null; createdBy: string | null }

/** Keys that work, newest first; the keys themselves are nowhere. */
export const activeKeys = (db: Db) => db<ApiKey[]>`
  select k.id, k.name, k.hint, k.created_at, k.last_used_at, m.name as created_by
  from api_key k left join member m on m.id = k.created_by where revoked_at is null order by k.created_at desc`

export async function addKey(db: Db, key: { id: string; name: string; hash: Buffer; hint: string; by: string | null }): Promise<void> {
  await db`insert into api_key ${db({ id: key.id, name: key.name, hash: key.hash, hint: key.hint, created_by: key.by })}`
}

/** Takes a key out of use, or back into it. */
export async function revokeKey(db: Db, id: string, revoked: boolean): Promise<boolean> {
  return (await db`update api_key set revoked_at = ${revoked ? new Date() : null} where id = ${id}`).count === 1
}

/** Whether a key with this hash works; notes its use, at most once a minute. */
export async function useKey(db: Db, hash: Buffer): Promise<boolean> {
  const [key] = await db<{ id: string; stale: boolean }[]>`
    select id, last_used_at is null or last_used_at < now() - interval '1 minute' as stale from api_key where hash = ${hash} and revoked_at is null`
  if (key?.stale) await db`update api_key set last_used_at = now() where id = ${key.id}`
  return key !== undefined
}
