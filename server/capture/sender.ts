import type { H3Event } from 'h3'
import { sign } from '#server/keys'
import { network } from '#server/limits'
import { sender } from '#server/wire'

const known = new Map<string, string>()

/** A fingerprint of the network that a request came from: tells one sender from another, and nobody where they are. In hexadecimal digits. */
export function markOf(event: H3Event): string {
  const from = network(sender(event))
  const mark = known.get(from)
  if (mark) return mark
  if (known.size > 5_000) known.clear()
  const made = Buffer.from(sign('words', `sender ${from}`), 'base64url')
    .toString('hex')
    .slice(0, 32)
  known.set(from, made)
  return made
}
