/** A name of our own under which forms and pages are found, beside the application's address. */
export interface Host {
  /** As it stands in addresses: small letters, without a scheme or a port; other scripts as Punycode (RFC 3492). */
  name: string
  /** Where it leads, without a slash at the end. */
  address: string
  /** When a browser first came here under it; until then it leads nobody anywhere. ISO 8601. */
  arrivedAt: string | null
  /** What stands at the bare address, by its id. */
  front: string | null
  /** The forms and pages in use that stand under it. */
  points: { id: string; name: string }[]
}

const LABEL = /^(?!-)[a-z0-9-]{1,63}(?<!-)$/

/**
 * The name of a host as somebody types it: also with a scheme, a path or letters of any script.
 * @returns a sentence when it is none
 */
export function readHostName(typed: string): { name: string } | { flaw: string } {
  const text = typed.trim()
  const flaw = 'Write a name like hello.firm.example: letters, digits and hyphens, with points between.'
  const whole = /^https?:\/\//i.test(text) ? text : `http://${text}`
  if (!text || /\s/.test(text) || !URL.canParse(whole)) return { flaw }
  const { hostname, port, username } = new URL(whole)
  const name = hostname.replace(/\.$/, '')
  if (port) return { flaw: 'Leave the port out: pages stand under the name alone, or where Cavlin itself has a port, under the same.' }
  if (username || name.length > 253 || !name.includes('.') || !name.split('.').every(label => LABEL.test(label))) return { flaw }
  if (/^[\d.]+$/.test(name)) return { flaw: 'This is a number of a computer, not a name. Write a name like hello.firm.example.' }
  return { name }
}

/** Where a name leads: with the scheme and the port of the application's own address. */
export function hostAddress(name: string, own: string): string {
  const { protocol, port } = new URL(own)
  return `${protocol}//${name}${port && `:${port}`}`
}

/** Where something stands that belongs to a name, or to none: names that lead nowhere yet count for nothing. */
export function standsAt(host: string | null, hosts: Host[], own: string): string {
  const found = host === null ? undefined : hosts.find(h => h.name === host)
  return found?.arrivedAt ? found.address : own
}
