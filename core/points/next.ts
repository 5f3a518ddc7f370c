import type { SentFile } from '#core/points/shapes/theme'
import type { Next } from '#core/points/shapes/next'

export type { Confirmed, Goal, Next } from '#core/points/shapes/next'
export const NEXT_KINDS = ['message', 'page', 'address', 'file', 'meeting'] as const
export type NextKind = (typeof NEXT_KINDS)[number]

/** Where the pictures and downloads of the house are, for everybody who has the address. */
export const assetPath = (file: SentFile): string => `/w/files/${file.id}/${encodeURIComponent(file.name)}`

/** A picture of the house in one of its widths; it is the whole picture where that was not made. */
export const sizedPath = (file: SentFile, width: number): string => `${assetPath(file)}?w=${width}`

/** A next step with nothing decided but its kind. */
export function blankNext(kind: NextKind): Next {
  if (kind === 'address') return { kind, address: 'https://' }
  if (kind === 'file') return { kind, file: null }
  return kind === 'meeting' ? { kind, minutes: 30, days: 14 } : { kind }
}
