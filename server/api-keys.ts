import { createHash, randomBytes } from 'node:crypto'
import { setResponseHeader, type H3Event } from 'h3'
import { SCOPES, type Scope } from '#core/scopes'
import type { Db } from '#db/client'
import { addKey, useKey } from '#db/keys'
import { database } from '#server/database'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import { header } from '#server/wire'

const hashOf = (key: string) => createHash('sha256').update(key).digest()

/** Makes a key for the open API and keeps its hash. @returns the key, which nobody can read again */
export async function issueKey(
  db: Db,
  name: string,
  by: string | null,
  scopes: readonly Scope[] = SCOPES,
  expires: Date | null = null,
): Promise<string> {
  const key = `cavlin_${randomBytes(32).toString('base64url')}`
  await addKey(db, { id: newId(), name, hash: hashOf(key), hint: key.slice(0, 11), by, scopes: [...scopes], expires })
  return key
}

/** Lets a program in that shows a working key which may do this. @throws 401, 403 */
export async function requireKey(event: H3Event, scope: Scope): Promise<void> {
  const [scheme, key] = (header(event, 'authorization') ?? '').split(' ')
  const scopes = scheme?.toLowerCase() === 'bearer' && key ? await useKey(database(), hashOf(key)) : undefined
  if (scopes?.includes(scope)) return
  // RFC 6750, 3.1
  setResponseHeader(
    event,
    'www-authenticate',
    scopes ? `Bearer realm="Cavlin", error="insufficient_scope", scope="${scope}"` : 'Bearer realm="Cavlin"',
  )
  throw scopes
    ? problem(403, `This key may not do that: it lacks “${scope}”. An admin makes keys under Keys for programs.`)
    : problem(401, 'Send a working API key: Authorization: Bearer KEY.')
}
