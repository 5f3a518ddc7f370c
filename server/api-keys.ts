import { createHash, randomBytes } from 'node:crypto'
import { setResponseHeader, type H3Event } from 'h3'
import type { Db } from '#db/client'
import { addKey, useKey } from '#db/keys'
import { database } from '#server/database'
import { newId } from '#server/ids'
import { problem } from '#server/problem'
import { header } from '#server/wire'

const hashOf = (key: string) => createHash('sha256').update(key).digest()

/** Makes a key for the open API and keeps its hash. @returns the key, which nobody can read again */
export async function issueKey(db: Db, name: string, by: string | null): Promise<string> {
  const key = `cavlin_${randomBytes(32).toString('base64url')}`
  await addKey(db, { id: newId(), name, hash: hashOf(key), hint: key.slice(0, 11), by })
  return key
}

/** Lets a program in that shows a working key. @throws 401 */
export async function requireKey(event: H3Event): Promise<void> {
  const [scheme, key] = (header(event, 'authorization') ?? '').split(' ')
  if (scheme?.toLowerCase() === 'bearer' && key && await useKey(database(), hashOf(key))) return
  setResponseHeader(event, 'www-authenticate', 'Bearer realm="Cavlin"')
  throw problem(401, 'Send a working API key: Authorization: Bearer KEY.')
}
