import type { SentFile } from '#core/files/kinds'

/**
 * What a visitor comes to after sending: the message where the form stood, a thank-you page of its
 * own, another address, a file to download, or a choice of times for a meeting with the owner.
 */
export type Next =
  | { kind: 'message' }
  | { kind: 'page' }
  | { kind: 'address'; address: string }
  | { kind: 'file'; file: SentFile | null }
  | { kind: 'meeting'; minutes: number; days: number }
export const NEXT_KINDS = ['message', 'page', 'address', 'file', 'meeting'] as const
export type NextKind = typeof NEXT_KINDS[number]

/** What comes once an address is confirmed: the message, another address, or a file. */
export type Confirmed = Extract<Next, { kind: 'message' | 'address' | 'file' }>

/** Where the pictures and downloads of the house are, for everybody who has the address. */
export const assetPath = (file: SentFile): string => `/w/files/${file.id}/${encodeURIComponent(file.name)}`

/** A next step with nothing decided but its kind. */
export function blankNext(kind: NextKind): Next {
  if (kind === 'address') return { kind, address: 'https://' }
  if (kind === 'file') return { kind, file: null }
  return kind === 'meeting' ? { kind, minutes: 30, days: 14 } : { kind }
}
