import { randomBytes } from 'node:crypto'
import { v7 } from 'uuid'

let last = 0
let seq = 0

/** A UUIDv7 of a moment; ids of the same millisecond sort in the order they were made. */
export function newId(at: number = Date.now()): string {
  if (at === last) seq++
  // Where the count begins is no secret; the 62 random bits behind it are.
  else [last, seq] = [at, Math.floor(Math.random() * 0x10000)]
  return v7({ msecs: at, seq })
}

/** A key for an address or a script: unguessable, easy to copy. */
export const newKey = (prefix: string, bytes = 9) => `${prefix}_${randomBytes(bytes).toString('base64url').replace(/[-_]/g, 'x')}`
