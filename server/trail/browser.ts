import { createHash } from 'node:crypto'
import type { H3Event } from 'h3'
import { idFrom } from '#server/wire'

/**
 * A browser as it is kept. What the browser calls itself is a secret that only it holds: it may say what it did, and take it all
 * back. What is kept, and what the team sees, is made from that and leads nowhere from it. 122 random bits need no salt.
 * A UUID of version 8 (RFC 9562); the same in SQL stands in migration 0027.
 * @param secret the id that a browser made for itself
 */
export function browserId(secret: string): string {
  const hex = createHash('sha256').update(`cavlin browser ${secret.toLowerCase()}`).digest('hex')
  const variant = '89ab'[parseInt(hex[16]!, 16) & 3]
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-${variant}${hex.slice(17, 20)}-${hex.slice(20, 32)}`
}

/** The browser that an address names by its secret. @throws 404 when it cannot be one */
export const browserFrom = (event: H3Event): string => browserId(idFrom(event))
