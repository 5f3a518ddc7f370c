/** Whether a text is free of lone surrogates (ES2024 String.isWellFormed, for older engines). */
export function isWellFormed(text: string): boolean {
  return !/[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/.test(text)
}

/** Text for HTML, between tags as well as inside a quoted attribute. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, c => `&#${c.charCodeAt(0)};`)
}

/** Words of ASCII with single blanks between them, in which nothing has to be changed. */
const PLAIN_LINE = /^[!-~]+(?: [!-~]+)*$/

/**
 * One line of at most `most` characters, for subjects and lists: control and
 * direction characters become spaces, runs of space one; cut at a word with an ellipsis.
 */
export function oneLine(text: string, most: number): string {
  if (text.length <= most && PLAIN_LINE.test(text)) return text
  const line = text.replace(/[\p{Cc}\p{Zl}\p{Zp}\u202A-\u202E\u2066-\u2069]+/gu, ' ').replace(/\s+/gu, ' ').trim()
  const letters = [...line]
  if (letters.length <= most) return line
  const cut = letters.slice(0, most - 1).join('')
  const space = cut.lastIndexOf(' ')
  return `${space > most / 2 ? cut.slice(0, space) : cut}…`
}

/** A word for an address or a key: `Ask for a visit!` becomes `ask-for-a-visit`. Empty when nothing is left. */
export function slugify(text: string, most = 60): string {
  return text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()
    .replace(/[^a-z0-9]+/g, '-').slice(0, most).replace(/^-+|-+$/g, '')
}
