import { createHash } from 'node:crypto'
import { fileTypeFromBuffer } from 'file-type'
import { imageSize } from 'image-size'
import type { IncomingFile } from '#core/capture/intake'
import { endingOf, endingsOf, sameEnding, type FileRules } from '#core/files/kinds'
import { newId } from '#server/ids'

/** A file as it came over the wire. `whole`: nothing was cut off at the limit. */
export interface Upload {
  field: string
  name: string
  content: Buffer
  whole: boolean
}

/** What a file is, by its content. */
export interface Inspected {
  name: string
  type: string
  size: number
  sha256: string
  content: Buffer
  width: number | null
  height: number | null
}

const TEXTS: Record<string, string> = { csv: 'text/csv', txt: 'text/plain' }
const UTF8 = new TextDecoder('utf-8', { fatal: true })

/**
 * Looks into a file: what it is counts, not what its name says. Text has no mark of its own, so it
 * is what decodes as UTF-8 without control characters, under a name that ends like one.
 * @returns the file, or a sentence that says what to do
 */
export async function inspect(upload: Upload, rules: FileRules): Promise<{ file: Inspected } | { flaw: string }> {
  const name = plainName(upload.name)
  const allowed = endingsOf(rules)
  const most = rules.megabytes * 1e6
  if (!upload.whole || upload.content.length > most)
    return { flaw: `“${name}” is too large. At most ${rules.megabytes} MB fit; make it smaller, or send it another way.` }
  if (!upload.content.length) return { flaw: `“${name}” is empty. Choose the file again.` }
  const said = endingOf(name)
  const found = await fileTypeFromBuffer(upload.content)
  const ending = found?.ext ?? (TEXTS[said] && isText(upload.content) ? said : '')
  if (!ending || !allowed.some(a => sameEnding(a, ending))) return { flaw: `“${name}” cannot be taken. These can: ${allowed.join(', ')}.` }
  if (said && !sameEnding(said, ending))
    return {
      flaw: `“${name}” is not what its name says: inside it is ${ending.toUpperCase()}. Save it anew under a name that ends in .${ending}.`,
    }
  const type = found?.mime ?? TEXTS[ending]!
  const { width, height } = type.startsWith('image/') ? sizeOf(upload.content) : { width: null, height: null }
  if (type.startsWith('image/') && width === null && !['heic', 'avif'].includes(ending))
    return { flaw: `“${name}” is no whole picture. Save it anew and try again.` }
  return {
    file: {
      name: said ? name : `${name}.${ending}`,
      type,
      size: upload.content.length,
      sha256: createHash('sha256').update(upload.content).digest('hex'),
      content: upload.content,
      width,
      height,
    },
  }
}

function isText(content: Buffer): boolean {
  try {
    return !/[\u0000-\u0008\u000e-\u001f]/.test(UTF8.decode(content))
  } catch {
    return false
  }
}

function sizeOf(content: Buffer): { width: number | null; height: number | null } {
  try {
    const { width, height, orientation } = imageSize(content)
    // As it stands there once a browser has turned it (Exif's orientation).
    return (orientation ?? 1) > 4 ? { width: height, height: width } : { width, height }
  } catch {
    return { width: null, height: null }
  }
}

/** A name without its folders and without what no name should have. */
function plainName(name: string): string {
  const base = name
    .split(/[\\/]/)
    .at(-1)!
    .replace(/[\p{Cc}\p{Cf}]/gu, '')
    .trim()
    .replace(/^\.+/, '')
  const ending = endingOf(base)
  const stem = ending ? base.slice(0, -ending.length - 1) : base
  return [[...stem].slice(0, 120).join('').trim() || 'file', ending].filter(Boolean).join('.')
}

/** What came for one question, looked into. */
export async function inspectAnswers(
  key: string,
  uploads: Upload[],
  rules: FileRules,
  most: number,
): Promise<{ files: IncomingFile[]; flaw: string | null }> {
  if (uploads.length > most)
    return { files: [], flaw: most === 1 ? 'Only one file fits here.' : `At most ${most} files fit here; there are ${uploads.length}.` }
  const files: IncomingFile[] = []
  for (const upload of uploads) {
    const seen = await inspect(upload, rules)
    if ('flaw' in seen) return { files: [], flaw: seen.flaw }
    const { name, type, size, sha256, content } = seen.file
    files.push({ id: newId(), question: key, name, type, size, sha256, content })
  }
  return { files, flaw: null }
}
