import { isWellFormed } from '#core/text'

/**
 * E-mail addresses as people mean them: case, stray spaces, full-width
 * letters and the two spellings of an international domain do not make
 * two persons. Dots and plus signs do: only the receiving house knows
 * whether it ignores them.
 */
export interface Email {
  /** As it is shown and written to: what was typed, less stray spaces. */
  address: string
  /** The same for each writing of one address; what persons are compared by. */
  key: string
}

const INVISIBLE = /[\s\u200B-\u200D\u2060\uFEFF\u00AD\u200E\u200F]+/gu
// RFC 5321 atoms, widened by RFC 6531 to letters of any script.
const LOCAL = /^[\p{L}\p{M}\p{N}!#$%&'*+/=?^_`{|}~-]+(\.[\p{L}\p{M}\p{N}!#$%&'*+/=?^_`{|}~-]+)*$/u
/** What most addresses are like: ASCII, with a last label of letters. None of it has two writings but for case. */
const PLAIN =
  /^([a-z0-9!#$%&'*+/=?^_`{|}~-]+(?:\.[a-z0-9!#$%&'*+/=?^_`{|}~-]+)*)@((?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.)+[a-z]{2,63})$/i
const DOMAIN = /^[\p{L}\p{M}\p{N}.\-\u3002\uFF0E\uFF61]+$/u

/**
 * Reads an address.
 * @returns the address and its key, or null when it cannot be one
 *   (RFC 5321 lengths: 64 octets before the @, 255 after).
 * @example parseEmail(' Ada@BÜCHER.example ')
 *   // { address: 'Ada@BÜCHER.example', key: 'ada@xn--bcher-kva.example' }
 */
export function parseEmail(typed: string): Email | null {
  const plain = typed.length <= 255 ? PLAIN.exec(typed) : null
  // The slow way is the same for these, but for what begins with xn--, which stands for other letters.
  if (plain && plain[1]!.length <= 64 && !/(^|\.)xn--/i.test(plain[2]!)) return { address: typed, key: typed.toLowerCase() }
  if (typed.length > 1000 || !isWellFormed(typed)) return null
  const address = typed.replace(INVISIBLE, '').normalize('NFC')
  const at = address.lastIndexOf('@')
  if (at < 1) return null
  const local = address.slice(0, at).normalize('NFKC').toLowerCase()
  const domain = asciiDomain(address.slice(at + 1))
  if (!domain || !LOCAL.test(local) || octets(local) > 64 || domain.length > 255) return null
  return { address, key: `${local}@${domain}` }
}

/** A domain in its ASCII writing (UTS 46), or null. The URL parser carries the table. */
function asciiDomain(domain: string): string | null {
  if (!DOMAIN.test(domain)) return null
  let host: string
  try {
    host = new URL(`http://${domain}`).hostname
  } catch {
    return null
  }
  const labels = host.split('.')
  const fits = labels.length >= 2 && labels.every(l => /^[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?$/.test(l))
  // A last label of digits only would make the whole a numeric address.
  return fits && !/^\d+$/.test(labels.at(-1)!) ? host : null
}

const octets = (text: string) => new TextEncoder().encode(text).length

/**
 * The mailbox that an address most likely ends in: parts behind a plus and dots do not count, which many houses pass over.
 * For counting mails only; two people are never one for it.
 */
export function mailboxOf(address: string): string {
  const key = parseEmail(address)?.key ?? address.toLowerCase()
  const at = key.lastIndexOf('@')
  return `${key.slice(0, at).replace(/\+.*$/, '').replaceAll('.', '')}${key.slice(at)}`
}
