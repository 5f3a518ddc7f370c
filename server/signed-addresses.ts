import { isSigned, sign } from '#server/keys'
import { ownAddress } from '#server/settings'

/** Where a signed address that does something leads: with a mail (confirm, leave, follow its link) or with an entry (choose a meeting, correct it). */
const PATHS = { confirm: 'c', leave: 'leave', follow: 'go', meet: 'm', correct: 'e' } as const
/** `result`: shows what a quiz made of an entry. `again`: who comes with it is a lead that we know. `arrived`: who comes with it to a page of the site followed the link of a mail. */
export type SignedAct = keyof typeof PATHS | 'again' | 'arrived' | 'result'

const DAY = 86_400_000
/** For how many days an address works; null: for as long as there are mails with it. */
const LIVES: Record<SignedAct, number | null> = {
  confirm: 30,
  leave: null,
  follow: 400,
  meet: 60,
  correct: 90,
  again: 90,
  arrived: 1,
  result: 400,
}
/** These name a lead, whose id says nothing of when the address was written: so the address says it. */
const DATED: SignedAct[] = ['again', 'arrived']

const LENGTH = 22
const keysOf = (act: SignedAct) => (act === 'leave' ? 'leave' : 'links')
const signature = (act: SignedAct, text: string) => sign(keysOf(act), `letter ${act} ${text}`, LENGTH)

/** A word for an address that only we can have written: what it does, and for which mail, entry or lead. @param at when it is written, in ms since 1970 */
export function signedToken(act: SignedAct, id: string, at = Date.now()): string {
  const text = DATED.includes(act) ? `${id}.${Math.floor(at / DAY)}` : id
  return `${text}.${signature(act, text)}`
}

/** What a token is for, and whether its time is over; null when we did not write it. */
export function readToken(act: SignedAct, token: string, now = Date.now()): { id: string; over: boolean } | null {
  const parts = token.length < 200 ? token.split('.') : []
  const given = parts.pop()
  if (!given || parts.length !== (DATED.includes(act) ? 2 : 1) || !/^[0-9a-f-]{36}$/.test(parts[0]!)) return null
  if (!isSigned(keysOf(act), `letter ${act} ${parts.join('.')}`, given, LENGTH)) return null
  const written = parts.length === 2 ? Number(parts[1]) * DAY : momentOf(parts[0]!)
  const days = LIVES[act]
  return { id: parts[0]!, over: days !== null && now - written > (days + 1) * DAY }
}

/** The id that a token is for; null when we did not write it, or its time is over. */
export function idOfToken(act: SignedAct, token: string): string | null {
  const read = readToken(act, token)
  return read && !read.over ? read.id : null
}

/** When an id was made, in ms since 1970: the first 48 bits of a UUIDv7 (RFC 9562, 5.7). */
const momentOf = (id: string): number => (id[14] === '7' ? parseInt(id.slice(0, 8) + id.slice(9, 13), 16) : 0)

/** A whole address that does something, signed. */
export const signedAddress = (act: keyof typeof PATHS, id: string): string => `${ownAddress()}/${PATHS[act]}/${signedToken(act, id)}`
/** The address of a form where a lead is known: what we know stands there already. */
export const personalAddress = (slug: string, lead: string): string => `${ownAddress()}/p/${slug}?cavlin=${signedToken('again', lead)}`

/** The address that goes into a mail: to confirm with. */
export const confirmAddress = (id: string) => signedAddress('confirm', id)
export const leaveAddress = (id: string) => signedAddress('leave', id)

/** A text without what would still open something: the tokens of our addresses. */
export const withoutTokens = (text: string): string =>
  text.replace(/[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}(?:\.\d+)?\.[\w-]{22}/g, '…')
