/** An answer as the team reads it. */
export interface Told { question: string; text: string; files?: { id: string; name: string }[] }

/** Everything that happens to a lead, in one stream: a kind and what belongs to it. */
export interface TimelinePayloads {
  came: { point: string }
  brought_in: { list: string }
  typed: { email: string }
  entry: {
    entry: string; point: string; edition: number; page?: string
    /** What it said, where that is kept here: in older lines, and since the visitor corrected it. Else the entry says it. */
    answers?: Told[]
    changed: { property: string; from: string; to: string }[]
    agreed?: string[]
  }
  label: { from: string | null; to: string | null; because: 'score' | 'point' | 'none'; fit: number; interest: number }
  owner: { from: string | null; to: string | null; lane?: string; point?: string; by: 'plan' | 'point' | 'person' }
  status: { from: string; to: string }
  note: { text: string }
  next_step: { text: string | null; due: string | null; was?: string; done?: boolean }
  announced: { to: string; subject: string }
  mailed: { subject: string; kind: 'confirm' | 'letter' | 'meeting' }
  followed: { subject: string }
  meeting: { at: string; minutes: number; with: string | null; was?: string }
  corrected: { entry: string; point: string; answers: { question: string; from: string; to: string }[]; changed: { property: string; from: string; to: string }[] }
  confirmed: { email: string }
  left: { email: string }
}
export type TimelineKind = keyof TimelinePayloads

export type TimelineItem = { [K in TimelineKind]: { id: string; lead: string; at: number; kind: K; actor: string | null; payload: TimelinePayloads[K] } }[TimelineKind]
