/** What somebody wrote anew, and what they quoted. */
export interface Folded {
  text: string
  quoted: string
}

/** Lines with which mail programs begin what they quote, in the languages that visitors write in. */
const BEGINS = [
  /^-{2,}\s*(original message|forwarded message|ursprüngliche nachricht|message d'origine|mensaje original|messaggio originale)\s*-{2,}$/i,
  /^(on|am|le|el|il|op|em)\b.{4,200}\b(wrote|schrieb|a écrit|escribió|ha scritto|schreef|escreveu)\b.{0,80}:$/i,
  /^_{20,}$/,
]
/** What stands above a signature (RFC 3676, 4.3). */
const SIGNATURE = /^-- ?$/
/** Such a line may be broken in two. */
const begins = (lines: string[], i: number): boolean => {
  const one = lines[i]!.trim()
  const two = `${one} ${(lines[i + 1] ?? '').trim()}`
  return BEGINS.some(b => b.test(one) || (/^(on|am|le|el|il|op|em)\b/i.test(one) && b.test(two)))
}

/**
 * Parts what somebody wrote from their signature and from what they quoted at the end. Nothing is lost: both together are the whole, but for white space. Where all
 * of it would be a quote, it is what they wrote.
 */
export function foldQuotes(whole: string): Folded {
  const lines = whole.replace(/\r\n?/g, '\n').split('\n')
  let at = lines.findIndex((line, i) => begins(lines, i) || SIGNATURE.test(line))
  if (at < 0) {
    // Quoted lines that stand at the end.
    at = lines.length
    while (at > 0 && (lines[at - 1]!.startsWith('>') || !lines[at - 1]!.trim())) at--
    if (!lines.slice(at).some(l => l.startsWith('>'))) at = lines.length
  }
  const text = lines.slice(0, at).join('\n').trim()
  const quoted = lines.slice(at).join('\n').trim()
  return text ? { text, quoted } : { text: quoted, quoted: '' }
}
