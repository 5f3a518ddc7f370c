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
  const line = text
    .replace(/[\p{Cc}\p{Zl}\p{Zp}\u202A-\u202E\u2066-\u2069]+/gu, ' ')
    .replace(/\s+/gu, ' ')
    .trim()
  const mails = [...line]
  if (mails.length <= most) return line
  const cut = mails.slice(0, most - 1).join('')
  const space = cut.lastIndexOf(' ')
  return `${space > most / 2 ? cut.slice(0, space) : cut}…`
}

/** A word for an address or a key: `Ask for a visit!` becomes `ask-for-a-visit`. Empty when nothing is left. */
export function slugify(text: string, most = 60): string {
  return text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, most)
    .replace(/^-+|-+$/g, '')
}

/** At most so many mails of a text, with an ellipsis where something was cut off. */
export function cut(text: string, most: number): string {
  const mails = text.length > most ? [...text] : null
  return mails && mails.length > most ? `${mails.slice(0, most - 1).join('')}…` : text
}

const SCHEME = /[a-z0-9+.-]*:\/\/|\b(?:mailto|tel|sms|javascript|data):/gi
/** What mail programs take for an address of the web or of mail: a dot with mails on both sides, an at sign between mails. */
const DOTTED = /(?<=[\p{L}\p{N}])\.(?=\p{L}{2})/gu
const AT = /(?<=\S)@(?=\S)/gu
const JOINER = '\u2060'

/** Whether something in a text would be taken for an address. */
export const hasAddress = (text: string): boolean => [SCHEME, DOTTED, AT].some(like => text.search(like) >= 0)

/** A text that reads the same, and in which no program finds anything to link: schemes go, and addresses are broken by a mark without width (U+2060). */
export function unlinked(text: string): string {
  let bare = text
  while (bare.search(SCHEME) >= 0) bare = bare.replace(SCHEME, '')
  return bare.replace(DOTTED, `${JOINER}.`).replace(AT, `${JOINER}@`)
}

/** `1 person`, `3 people`. */
export const count = (n: number, one: string, many: string): string => `${FIGURES.format(n)} ${n === 1 ? one : many}`
/** Made once: lists say hundreds of counts, and making it takes far longer than using it. */
const FIGURES = new Intl.NumberFormat('en')
