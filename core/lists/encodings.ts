export type Encoding =
  | 'utf-8'
  | 'utf-16le'
  | 'utf-16be'
  | 'windows-1252'
  | 'macintosh'
  | 'windows-1250'
  | 'iso-8859-2'
  | 'windows-1251'
  | 'windows-1253'
  | 'windows-1254'
  | 'windows-1256'

/** Ways in which tables are written, by their names in the Encoding Standard, with what people call them. */
export const ENCODING_NAMES: { key: Encoding; name: string }[] = [
  { key: 'utf-8', name: 'UTF-8' },
  { key: 'utf-16le', name: 'UTF-16 (“Unicode text”)' },
  { key: 'utf-16be', name: 'UTF-16, the other way round' },
  { key: 'windows-1252', name: 'Western European (Latin-1)' },
  { key: 'macintosh', name: 'Western European, old Macintosh' },
  { key: 'windows-1250', name: 'Central European (Windows)' },
  { key: 'iso-8859-2', name: 'Central European (Latin-2)' },
  { key: 'windows-1251', name: 'Cyrillic' },
  { key: 'windows-1253', name: 'Greek' },
  { key: 'windows-1254', name: 'Turkish' },
  { key: 'windows-1256', name: 'Arabic' },
]
