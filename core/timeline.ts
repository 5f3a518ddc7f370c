/** An answer as the team reads it. */
export interface AnswerInWords { question: string; text: string; files?: { id: string; name: string }[] }

/** Everything that happens to a lead, in one stream: a kind and what belongs to it. */
export interface TimelinePayloads {
  came: { point: string }
  brought_in: { list: string }
  typed: { email: string }
  entry: {
    entry: string; point: string; edition: number; page?: string
    /** What it said, where that is kept here: in older lines, and since the visitor corrected it. Else the entry says it. */
    answers?: AnswerInWords[]
    changed: { property: string; from: string; to: string }[]
    agreed?: string[]
    /** What came of it in the same moment, where that is kept in one with it (`withEntry`). */
    also?: Also
  }
  label: { from: string | null; to: string | null; because: 'score' | 'point' | 'none'; fit: number; interest: number }
  owner: { from: string | null; to: string | null; lane?: string; point?: string; by: 'plan' | 'point' | 'person' }
  status: { from: string; to: string }
  note: { text: string }
  next_step: { text: string | null; due: string | null; was?: string; done?: boolean }
  announced: { to: string; subject: string }
  mailed: { subject: string; kind: 'confirm' | 'mail' | 'meeting' }
  followed: { subject: string }
  meeting: { at: string; minutes: number; with: string | null; was?: string }
  corrected: { entry: string; point: string; answers: { question: string; from: string; to: string }[]; changed: { property: string; from: string; to: string }[] }
  confirmed: { email: string }
  /** An address arrived on them that they were not found by. */
  claimed: { address: string }
  /** A member said whether an address is theirs. */
  judged: { email: string; theirs: boolean }
  left: { email: string }
}
export type TimelineKind = keyof TimelinePayloads

/** What happened to a lead, as the path of an entry tells it; it gets its id when it is kept. */
export type TimelineLine = { [K in TimelineKind]: { lead: string; at: number; kind: K; actor: string | null; payload: TimelinePayloads[K] } }[TimelineKind]
/** A line that is kept. */
export type TimelineItem = TimelineLine & { id: string }

/** What comes of an entry in the same moment, in the order in which it happens; that somebody came stands before the entry. */
const BROUGHT = ['came', 'label', 'owner', 'next_step'] as const
type Also = Partial<Pick<TimelinePayloads, typeof BROUGHT[number]>>
/** What is kept with an entry of the line that it makes; the rest of it the entry says itself. */
export type Brought = Partial<Pick<TimelinePayloads['entry'], 'answers' | 'changed' | 'agreed' | 'also'>>

/**
 * The lines that an entry makes, as they are kept: its own, and what came of it in the same moment, with the entry; the
 * others by themselves. An entry that makes a lead has four or five lines, and each one kept costs a row and a place in an index.
 */
export function withEntry<L extends TimelineLine>(lines: L[]): { brought: Brought; others: L[] } {
  const entry = lines.find(line => line.kind === 'entry') as Extract<TimelineLine, { kind: 'entry' }> | undefined
  const also: Record<string, unknown> = {}
  const others = lines.filter((line) => {
    if (!entry || line.at !== entry.at || line.actor !== entry.actor) return true
    if (line.kind === 'entry') return line !== (entry as TimelineLine)
    if (!(BROUGHT as readonly string[]).includes(line.kind) || line.kind in also) return true
    also[line.kind] = line.payload
    return false
  })
  const { changed, agreed } = entry?.payload ?? {}
  return { brought: { ...(changed?.length && { changed }), ...(agreed && { agreed }), also }, others }
}

/** Lines as they are told, newest first, of one that is kept (`withEntry`); most are just that. */
export function unpacked<L extends { id: string; kind: string; payload: object }>(line: L): L[] {
  const { also, ...payload } = line.payload as { also?: Record<string, object> }
  if (line.kind !== 'entry' || !also) return [line]
  const lines = BROUGHT.flatMap(kind => also[kind] ? [{ ...line, id: `${line.id} ${kind}`, kind, payload: also[kind] }] : [])
  return [...lines.filter(l => l.kind !== 'came').reverse(), { ...line, payload }, ...lines.filter(l => l.kind === 'came')]
}
