/** Kinds of file that can be asked for, by the endings that belong to them. */
export const FILE_FAMILIES = ['picture', 'document', 'table', 'text'] as const
export type FileFamily = (typeof FILE_FAMILIES)[number]

export const FAMILY_NAMES: Record<FileFamily, string> = { picture: 'Pictures', document: 'Documents', table: 'Tables', text: 'Plain text' }

const ENDINGS: Record<FileFamily, string[]> = {
  picture: ['jpg', 'jpeg', 'png', 'webp', 'gif', 'heic', 'avif'],
  document: ['pdf', 'docx', 'odt'],
  table: ['xlsx', 'ods', 'csv'],
  text: ['txt'],
}

/** What a question takes: kinds of file (none: any of them), and megabytes each. */
export interface FileRules {
  accepts: FileFamily[]
  megabytes: number
}
export const PLAIN_FILES: FileRules = { accepts: [], megabytes: 5 }
/** Pictures that browsers may show where they stand; everything else is only downloaded. */
export const PICTURE_TYPES = ['image/jpeg', 'image/png', 'image/webp', 'image/gif', 'image/avif']
export const MOST_MEGABYTES = 20
export const MOST_FILES = 10

/** A file that came with an answer. */
export interface SentFile {
  id: string
  name: string
}

/** The endings that a question takes, without the point. */
export const endingsOf = (rules: FileRules): string[] => (rules.accepts.length ? rules.accepts : FILE_FAMILIES).flatMap(f => ENDINGS[f])

/** The ending of a file's name in small letters, `''` when it has none. */
export const endingOf = (name: string): string => /\.([a-z0-9]{1,8})$/i.exec(name)?.[1]?.toLowerCase() ?? ''

/** Endings that mean the same content. */
export const sameEnding = (a: string, b: string): boolean =>
  a === b || (['jpg', 'jpeg'].includes(a) && ['jpg', 'jpeg'].includes(b)) || (['heic', 'heif'].includes(a) && ['heic', 'heif'].includes(b))

/** A file as the value of a property keeps it: its id and name. */
export const fileValue = (file: SentFile): string => `${file.id}/${file.name}`
/** The file that a property's value stands for; null when it is none. */
export function fileOf(value: string): SentFile | null {
  const [, id, name] = /^([0-9a-f-]{36})\/(.+)$/s.exec(value) ?? []
  return id ? { id, name: name! } : null
}

/** A size in words. */
export const sizeText = (bytes: number): string =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`
