import { sign } from '#server/keys'
import { setting } from '#server/settings'

/** Mail servers may write local parts in small letters, and cut them at 64 signs (RFC 5321, 4.5.3.1.1). */
const LENGTH = 24
const mark = (id: string) =>
  Buffer.from(sign('links', `reply ${id}`, 43), 'base64url')
    .toString('hex')
    .slice(0, LENGTH)

/** Where answers to a mail go: an address of the house that only we can have written. @param id of the delivery */
export const replyAddress = (id: string): string => `r${id.replaceAll('-', '')}${mark(id)}@${setting('CAVLIN_MAIL_REPLIES')}`

/** The delivery that an address is for; null when we did not write it. */
export function deliveryOf(address: string): string | null {
  const [, hex, given] = /^r([0-9a-f]{32})([0-9a-f]{24})@/i.exec(address.trim()) ?? []
  if (!hex || !given) return null
  const id = hex.toLowerCase().replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5')
  return mark(id) === given.toLowerCase() ? id : null
}
