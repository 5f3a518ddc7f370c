/** Letters that a note holds. */
export const NOTE_LIMITS = { title: 120, body: 4000 } as const
export interface NoteText {
  title: string
  body: string
}

/**
 * Notes out of a text in Markdown: each heading of the first two levels begins one. What is longer than a note is parted between
 * paragraphs, so that nothing is lost; of two of one name the later is told apart by its number.
 * @param name what stands before the first heading goes by
 */
export function notesIn(markdown: string, name: string): NoteText[] {
  const parts = markdown.replace(/\r\n?/g, '\n').split(/^(?=#{1,2} )/m)
  const all = parts.flatMap(part => {
    const head = /^#{1,2} +(.+)\n?/.exec(part)
    const title = ((head?.[1] ?? '').replace(/\s+/g, ' ').trim() || name).slice(0, NOTE_LIMITS.title)
    return inPieces(part.slice(head?.[0].length ?? 0).trim()).map(body => ({ title, body }))
  })
  const times = new Map<string, number>()
  return all.map(({ title, body }) => {
    const n = (times.get(title.toLowerCase()) ?? 0) + 1
    times.set(title.toLowerCase(), n)
    const mark = n > 1 ? ` (${n})` : ''
    return { title: title.slice(0, NOTE_LIMITS.title - mark.length) + mark, body }
  })
}

/** A text in pieces that each fit into a note, parted where it parts by itself. */
function inPieces(text: string): string[] {
  const pieces: string[] = []
  for (let rest = text; rest;) {
    if (rest.length <= NOTE_LIMITS.body) return [...pieces, rest]
    const within = rest.slice(0, NOTE_LIMITS.body)
    const at = ['\n\n', '\n', ' '].map(sign => within.lastIndexOf(sign)).find(i => i > NOTE_LIMITS.body / 2) ?? NOTE_LIMITS.body
    pieces.push(rest.slice(0, at).trim())
    rest = rest.slice(at).trim()
  }
  return pieces
}
