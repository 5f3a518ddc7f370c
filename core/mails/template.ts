/** A placeholder in a text: its name, and what stands there for whom it is not known. */
export interface Placeholder {
  name: string
  fallback: string
}

/** A placeholder; with an inverted section of its own behind it where something stands in for it (Mustache). */
const SIMPLE = /^\{\{\s*([\w.]+)\s*\}\}(?:\{\{\^\s*\1\s*\}\}((?:(?!\{\{)[^])*?)\{\{\/\s*\1\s*\}\})?/
const ANY = /\{\{[^{}\n]*\}\}/

/** The placeholder with which a text begins, and how long it is; null where there is none. A tag that does more than stand for something is its own name. */
export function placeholderAt(text: string): (Placeholder & { length: number }) | null {
  const simple = SIMPLE.exec(text)
  if (simple) return { name: simple[1]!, fallback: simple[2] ?? '', length: simple[0].length }
  const tag = text.startsWith('{{') ? ANY.exec(text) : null
  return tag?.index === 0 ? { name: tag[0], fallback: '', length: tag[0].length } : null
}

/** A placeholder as it stands in a text. @param escape what the text around asks of letters that mean something in it */
export function placeholderText({ name, fallback }: Placeholder, escape = (text: string) => text): string {
  if (name.startsWith('{{')) return name
  return `{{${name}}}${fallback && `{{^${name}}}${escape(fallback)}{{/${name}}}`}`
}

/** A text as its letters and placeholders, in order. */
export function partsOf(template: string): (string | Placeholder)[] {
  const parts: (string | Placeholder)[] = []
  let from = 0
  for (let at = template.indexOf('{{'); at >= 0;) {
    const found = placeholderAt(template.slice(at))
    if (found) {
      if (at > from) parts.push(template.slice(from, at))
      const { name, fallback, length } = found
      parts.push({ name, fallback })
      from = at + length
    }
    at = template.indexOf('{{', found ? from : at + 2)
  }
  if (from < template.length) parts.push(template.slice(from))
  return parts
}

const PUNCTUATION = /[!-/:-@[-`{-~]/g
/** Text as Markdown in which nothing means anything: every sign of ASCII may be escaped (CommonMark 0.31, 2.4), and no line is indented. */
export const asMarkdown = (text: string): string => text.replace(/^[^\S\n]+/gm, '').replace(PUNCTUATION, '\\$&')
/** The text that `asMarkdown` was given. */
export const fromMarkdown = (text: string): string => text.replace(/\\([!-/:-@[-`{-~])/g, '$1')
