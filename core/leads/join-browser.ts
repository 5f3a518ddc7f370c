/** A time in which a browser was a lead's. Milliseconds since 1970; -Infinity: from the beginning; Infinity: until today. */
export interface Span {
  id: string
  visitor: string
  lead: string
  since: number
  until: number
  /** When somebody said that it was not theirs. */
  undone: number | null
}

/** What becomes of a browser's spans. */
export interface Joined {
  /** The span of who was known there before ends. */
  ends: Span | null
  begins: Span | null
}

/**
 * Says whose a browser is from now on. Somebody else who is known there ends the time of who was known before; what nobody was known
 * for before is theirs, too.
 * @param spans of this browser; changed to what stands afterwards
 */
export function joinBrowser(spans: Span[], visitor: string, lead: string, at: number, newId: (at: number) => string): Joined {
  const now = spans.find(s => s.until === Infinity && s.undone === null)
  if (now?.lead === lead) return { ends: null, begins: null }
  if (now) now.until = Math.max(now.since, at)
  const begins: Span = {
    id: newId(at),
    visitor,
    lead,
    since: Math.max(-Infinity, ...spans.map(s => s.undone ?? s.until)),
    until: Infinity,
    undone: null,
  }
  spans.push(begins)
  return { ends: now ?? null, begins }
}
