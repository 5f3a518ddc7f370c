import { setResponseHeader, type H3Event } from 'h3'
import ipaddr from 'ipaddr.js'
import { RateLimiterMemory, type RateLimiterRes } from 'rate-limiter-flexible'
import { problem } from '#server/problem'
import { sender } from '#server/wire'
import { setting } from '#server/settings'

/** Requests a minute that one sender may make to the public addresses. */
export type Limit = 'entries' | 'views' | 'reads' | 'messages'
const limiters = new Map<Limit, RateLimiterMemory>()
function limiterOf(name: Limit): RateLimiterMemory {
  if (!limiters.has(name))
    limiters.set(name, new RateLimiterMemory({ points: setting(`CAVLIN_LIMIT_${name.toUpperCase() as Uppercase<Limit>}`), duration: 60 }))
  return limiters.get(name)!
}

/**
 * Counts a request against its sender's allowance.
 * @throws 429 with Retry-After when it is used up
 */
export const limit = (event: H3Event, name: Limit): Promise<void> => consume(event, limiterOf(name), network(sender(event)))

/** Messages a minute of one conversation: nobody types faster. */
const OF_ONE = 30
let perConversation: RateLimiterMemory | undefined
/** Counts a message against what one conversation may say. @throws as `limit` */
export const limitConversation = (event: H3Event, id: string): Promise<void> =>
  consume(event, (perConversation ??= new RateLimiterMemory({ points: OF_ONE, duration: 60 })), id)

async function consume(event: H3Event, limiter: RateLimiterMemory, key: string): Promise<void> {
  if (!setting('CAVLIN_LIMITS')) return
  try {
    await limiter.consume(key)
  } catch (refused) {
    if (refused instanceof Error) throw refused
    const seconds = Math.max(1, Math.ceil((refused as RateLimiterRes).msBeforeNext / 1000))
    setResponseHeader(event, 'Retry-After', seconds)
    throw problem(429, `Too many requests from your address. Try again in ${seconds} s; nothing was stored.`)
  }
}

/** One household has one IPv4 address but 2^64 of IPv6: those count as one. */
export function network(address: string): string {
  if (!ipaddr.isValid(address)) return address
  const ip = ipaddr.process(address)
  return ip.kind() === 'ipv6' ? ip.toNormalizedString().split(':').slice(0, 4).join(':') : ip.toString()
}
