import { setResponseHeader, type H3Event } from 'h3'
import ipaddr from 'ipaddr.js'
import { RateLimiterMemory, type RateLimiterRes } from 'rate-limiter-flexible'
import { problem } from '#server/problem'
import { sender } from '#server/wire'

/** Requests a minute that one sender may make to the public addresses, and the settings that change it. */
const DEFAULTS = { entries: 120, views: 300, reads: 600 }
export type Limit = keyof typeof DEFAULTS

const off = process.env.CAVLIN_LIMITS === 'off'
const limiters = Object.fromEntries(Object.entries(DEFAULTS).map(([name, usual]) => {
  const points = Number(process.env[`CAVLIN_LIMIT_${name.toUpperCase()}`] || usual)
  return [name, new RateLimiterMemory({ points: points > 0 ? points : usual, duration: 60 })]
})) as Record<Limit, RateLimiterMemory>

/**
 * Counts a request against its sender's allowance.
 * @throws 429 with Retry-After when it is used up
 */
export async function limit(event: H3Event, name: Limit): Promise<void> {
  if (off) return
  try {
    await limiters[name].consume(network(sender(event)))
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
