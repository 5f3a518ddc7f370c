import { createHmac, timingSafeEqual } from 'node:crypto'
import { setting } from '#server/database'

/** Where a signed address that does something leads: with a letter (confirm, leave, follow its link) or with an entry (choose a meeting, correct it). */
const PATHS = { confirm: 'c', leave: 'leave', follow: 'go', meet: 'm', correct: 'e' } as const
/** `again`: who comes with it is a lead that we know. */
export type SignedAct = keyof typeof PATHS | 'again'

const signature = (act: SignedAct, id: string) => createHmac('sha256', setting('CAVLIN_SESSION')).update(`letter ${act} ${id}`).digest('base64url').slice(0, 22)

/** A word for an address that only we can have written: what it does, and for which letter, entry or lead. */
export const letterToken = (act: SignedAct, id: string): string => `${id}.${signature(act, id)}`

/** The id that a token is for; null when we did not write it. */
export function letterOf(act: SignedAct, token: string): string | null {
  const [id, given, ...more] = token.split('.')
  if (!id || !given || more.length || !/^[0-9a-f-]{36}$/.test(id)) return null
  const wanted = Buffer.from(signature(act, id))
  const typed = Buffer.from(given)
  return typed.length === wanted.length && timingSafeEqual(typed, wanted) ? id : null
}

/** A whole address that does something, signed. */
export const signedAddress = (act: keyof typeof PATHS, id: string): string => `${process.env.CAVLIN_URL ?? ''}/${PATHS[act]}/${letterToken(act, id)}`
/** The address of a form where a lead is known: what we know stands there already. */
export const personalAddress = (slug: string, lead: string): string => `${process.env.CAVLIN_URL ?? ''}/p/${slug}?cavlin=${letterToken('again', lead)}`

/** The address that goes into a letter: to confirm with. */
export const confirmAddress = (id: string) => signedAddress('confirm', id)
export const leaveAddress = (id: string) => signedAddress('leave', id)
