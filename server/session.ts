import { createHash, randomBytes } from 'node:crypto'
import { deleteCookie, getCookie, setCookie, type H3Event } from 'h3'
import { may, whoMay, type Act } from '#core/roles'
import type { Member } from '#db/members'
import { endSession, memberOfSession, openSession, type Lasting } from '#db/sessions'
import { database } from '#server/database'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { ownAddress, setting } from '#server/settings'

const HOUR = 3600
/** Hours without use, and days in all, after which somebody signs in anew. */
export const lasting = (): Lasting => ({
  idle: setting('CAVLIN_SESSION_IDLE_HOURS') * HOUR,
  whole: setting('CAVLIN_SESSION_DAYS') * 24 * HOUR,
})

/** With https the browser itself sees to it that no other site, path or line sets it (`__Host-`, RFC 6265bis). */
const secure = () => ownAddress().startsWith('https:')
const name = () => (secure() ? '__Host-cavlin' : 'cavlin')

/** What the browser keeps is a secret that means nothing by itself; here stands its fingerprint. */
const fingerprint = (secret: string) => createHash('sha256').update(secret).digest()
/** The session of a request, by its fingerprint; null without one. */
export function sessionOf(event: H3Event): Buffer | null {
  const secret = getCookie(event, name())
  return secret ? fingerprint(secret) : null
}

export async function signInAs(event: H3Event, member: string): Promise<void> {
  const secret = randomBytes(32).toString('base64url')
  await openSession(database(), fingerprint(secret), member)
  setCookie(event, name(), secret, { httpOnly: true, sameSite: 'lax', path: '/', secure: secure(), maxAge: lasting().whole })
}

/** Ends the session, here and wherever its streams are open. */
export async function signOut(event: H3Event): Promise<void> {
  const hash = sessionOf(event)
  deleteCookie(event, name(), { httpOnly: true, sameSite: 'lax', path: '/', secure: secure() })
  if (hash && (await endSession(database(), hash))) await say(database(), { out: [hash.toString('hex')] })
}

/**
 * The member who asks, as they are now: a role taken away counts at once.
 * @throws 401 when nobody is signed in, 403 when their role may not do `act`
 */
export async function memberOf(event: H3Event, act?: Act): Promise<Member> {
  const hash = sessionOf(event)
  const member = hash && (await memberOfSession(database(), hash, lasting()))
  if (!member) throw problem(401, 'Sign in first.')
  if (act && !may(member.role, act)) throw problem(403, `Your role is ${member.role}; only ${whoMay(act)} may do this.`)
  return member
}
