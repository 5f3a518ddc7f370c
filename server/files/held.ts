import { setResponseHeader, type H3Event } from 'h3'
import { network } from '#server/limits'
import { problem } from '#server/problem'
import { sender } from '#server/wire'

/** Bytes of uploads that this process holds in memory at once: of all senders, and of one. */
const MOST = 128 * 1e6
const MOST_OF_ONE = 56 * 1e6

let all = 0
const bySender = new Map<string, number>()

/**
 * What an upload may hold in memory until its request is answered.
 * @returns counts bytes that came. @throws 503 or 429 with Retry-After when there is no room for more
 */
export function holder(event: H3Event): (bytes: number) => void {
  const who = network(sender(event))
  let own = 0
  const change = (bytes: number) => {
    own += bytes
    all += bytes
    const sum = (bySender.get(who) ?? 0) + bytes
    if (sum > 0) bySender.set(who, sum)
    else bySender.delete(who)
  }
  event.node.res.once('close', () => change(-own))
  return bytes => {
    const full = all + bytes > MOST
    if (full || (bySender.get(who) ?? 0) + bytes > MOST_OF_ONE) {
      setResponseHeader(event, 'Retry-After', 20)
      throw problem(full ? 503 : 429, 'Too many files are on their way just now. Nothing was stored; try again in 20 s.')
    }
    change(bytes)
  }
}

/** Bytes of uploads that are held now, for those who look after the process. */
export const heldBytes = (): number => all
