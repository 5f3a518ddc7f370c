import { analyse } from 'chardet'
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
    return likeliest(some)
  }
}

const isLetter = (byte: number) => byte >= 0x80 || ((byte | 0x20) >= 0x61 && (byte | 0x20) <= 0x7a)
const SPACE = 0x20
/** Only the words with letters beyond ASCII, which differ from one alphabet to the other: in a short table addresses outweigh them. */
function telling(bytes: Uint8Array): Uint8Array {
  const words: number[] = []
  for (let from = 0; from < bytes.length;) {
    let until = from
    while (until < bytes.length && isLetter(bytes[until]!)) until++
    const word = bytes.subarray(from, until)
    if (word.some(byte => byte >= 0x80)) words.push(...word, SPACE)
    from = until + 1
  }
  return Uint8Array.from(words)
}

/** In which way of one byte a letter a text is likely to be written; where none is likelier, as most of the West does. */
function likeliest(bytes: Uint8Array): Encoding {
  const sums = new Map<Encoding, number>([['windows-1252', 0]])
  for (const part of [bytes, telling(bytes)]) {
    const here = new Map<Encoding, number>()
    for (const { name, confidence } of analyse(part)) {
      const key = AS[name] ?? ENCODING_NAMES.find(e => e.key === name.toLowerCase())?.key
      if (key && !key.startsWith('utf')) here.set(key, Math.max(here.get(key) ?? 0, confidence))
    }
    for (const [key, confidence] of here) sums.set(key, (sums.get(key) ?? 0) + confidence)
  }
  return [...sums].reduce((best, one) => (one[1] > best[1] ? one : best))[0]
}
