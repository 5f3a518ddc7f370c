import { createHmac, timingSafeEqual } from 'node:crypto'
import { setting } from '#server/settings'

/**
 * What we sign, each with keys of its own, so that one can be changed without the others: addresses in mails; addresses to
 * leave with, which must work for as long as a mail lies in somebody's inbox; sums for machines; what browsers are told of their person.
 */
export const PURPOSES = ['links', 'leave', 'proofs', 'words'] as const
export type Purpose = (typeof PURPOSES)[number]

/** The keys of a purpose: the first signs, all are taken. From `CAVLIN_KEYS_LINKS` and so on, separated by commas. */
export function keysFor(purpose: Purpose): [string, ...string[]] {
  return setting(`CAVLIN_KEYS_${purpose.toUpperCase() as Uppercase<Purpose>}`)
}

const made = (key: string, text: string) => createHmac('sha256', key).update(text).digest('base64url')

/** A signature (HMAC-SHA-256, base64url, cut to so many characters). */
export const sign = (purpose: Purpose, text: string, length = 43): string => made(keysFor(purpose)[0], text).slice(0, length)

/** Whether a signature is one of ours, by any key that is still taken. */
export function isSigned(purpose: Purpose, text: string, given: string, length = 43): boolean {
  const typed = Buffer.from(given)
  return keysFor(purpose).some(key => {
    const wanted = Buffer.from(made(key, text).slice(0, length))
    return typed.length === wanted.length && timingSafeEqual(typed, wanted)
  })
}
