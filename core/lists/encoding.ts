import { detect } from 'chardet'
import { ENCODING_NAMES, type Encoding } from '#core/lists/encodings'

/** What the detector names otherwise: Latin-1 in the wild is Windows-1252, which has more letters. */
const AS: Record<string, Encoding> = {
  'ISO-8859-1': 'windows-1252',
  'ISO-8859-2': 'iso-8859-2',
  'ISO-8859-5': 'windows-1251',
  'ISO-8859-6': 'windows-1256',
  'ISO-8859-7': 'windows-1253',
  'ISO-8859-9': 'windows-1254',
}
/** So much of a file tells how it is written. */
const LOOKED_AT = 65_536

/** A file that is no text: what it is instead, as far as its first bytes tell. */
export class NoText extends Error {
  override name = 'NoText'
}

/**
 * Reads the bytes of a table as text.
 * @param as how it is written, where somebody says so; else its first bytes, its zeros or its letters tell
 * @throws NoText with what to do instead
 */
export function readText(bytes: Uint8Array, as?: Encoding): { text: string; encoding: Encoding } {
  const encoding = as ?? detected(bytes)
  return { text: new TextDecoder(encoding).decode(bytes), encoding }
}

const begins = (bytes: Uint8Array, ...first: number[]) => first.every((byte, i) => bytes[i] === byte)

function detected(bytes: Uint8Array): Encoding {
  if (begins(bytes, 0xef, 0xbb, 0xbf)) return 'utf-8'
  if (begins(bytes, 0xff, 0xfe)) return 'utf-16le'
  if (begins(bytes, 0xfe, 0xff)) return 'utf-16be'
  if (begins(bytes, 0x50, 0x4b, 3, 4) || begins(bytes, 0xd0, 0xcf, 0x11, 0xe0)) {
    throw new NoText('This is a spreadsheet file, not a table in text. Open it, save it as CSV, and choose that file.')
  }
  const some = bytes.subarray(0, LOOKED_AT)
  const zeros = [0, 0]
  for (const [i, byte] of some.entries()) if (byte === 0) zeros[i % 2]!++
  const [even, odd] = zeros as [number, number]
  // Of two bytes a Latin letter leaves one empty, always the same.
  if (even + odd > 0) {
    if (odd > some.length / 4 && even < odd / 10) return 'utf-16le'
    if (even > some.length / 4 && odd < even / 10) return 'utf-16be'
    throw new NoText('This file is not text. Save the table as CSV, and choose that file.')
  }
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes)
    return 'utf-8'
  } catch {
    const name = detect(some) ?? ''
    return AS[name] ?? ENCODING_NAMES.find(e => e.key === name.toLowerCase())?.key ?? 'windows-1252'
  }
}
