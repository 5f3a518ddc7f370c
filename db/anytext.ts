/**
 * PostgreSQL's text holds neither U+0000 nor lone surrogates, but people's answers
 * may, and come back exactly as typed. Such code units travel as U+E000 and four
 * hexadecimal digits; a U+E000 that was typed travels the same way.
 */
const UNSTORABLE = /[\0\uE000]|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g

/** Any text as one that PostgreSQL takes. */
export function toStored(text: string): string {
  return text.replace(UNSTORABLE, c => `\uE000${c.charCodeAt(0).toString(16).padStart(4, '0')}`)
}

/** The text that was given to `toStored`. */
export function fromStored(text: string): string {
  return text.includes('\uE000') ? text.replace(/\uE000([0-9a-f]{4})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16))) : text
}
