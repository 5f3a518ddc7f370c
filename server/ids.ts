import { randomBytes, randomFillSync } from 'node:crypto'
import { v7 } from 'uuid'

let last = 0
let seq = 0

/** Random bits for a few hundred ids, fetched together: an entry takes seven. */
const pool = new Uint8Array(16 * 256)
let used = pool.length
function random(): Uint8Array {
  if (used === pool.length) {
    randomFillSync(pool)
    used = 0
  }
  return pool.subarray(used, (used += 16))
}

/** A UUIDv7 of a moment; ids of the same millisecond sort in the order they were made. */
export function newId(at: number = Date.now()): string {
  if (at === last) seq++
  // Where the count begins is no secret; the 62 random bits behind it are.
  else [last, seq] = [at, Math.floor(Math.random() * 0x10000)]
  return v7({ msecs: at, seq, random: random() })
}

/** A key for an address or a script: unguessable, easy to copy. */
export const newKey = (prefix: string, bytes = 9) => `${prefix}_${randomBytes(bytes).toString('base64url').replace(/[-_]/g, 'x')}`

/** An id that looks like one of ours and is nobody's: made from another and a mark that nobody can work out, the same each time. @param mark at least 19 hexadecimal digits */
export const unlikeId = (id: string, mark: string): string =>
  `${id.slice(0, 14)}7${mark.slice(0, 3)}-8${mark.slice(3, 6)}-${mark.slice(6, 18)}`
