import type { Sentence } from '#core/events/kind'
import { pathOf } from '#core/events/kind'
import type { EventName, EventPayloads } from '#core/events/registry'
import { count } from '#core/text'
import { cameFrom, type ReadPage } from '#core/trail/visits'

/** An answer as the team reads it. */
export interface AnswerInWords {
  question: string
  text: string
  files?: { id: string; name: string }[]
}

/** A visit with its pages; times within it in milliseconds since 1970. */
export interface VisitPayload {
  site: string
  source: string
  device: string
  place: string | null
  visitor: string
  pages: ReadPage[]
}
/** What was typed and not sent: into a point, or a form of the site's own, which may have been sent there. */
export interface UnfinishedPayload {
  point: string | null
  form: string | null
  page: string
  sent: boolean
  answers: { question: string; text: string }[]
}

/** What a timeline tells beside the lead's events. */
export interface BesidePayloads {
  visit: VisitPayload
  unfinished: UnfinishedPayload
  /** A mail of ours went to them. */
  mailed: { subject: string; kind: 'confirm' | 'mail' | 'meeting' | 'reminder' }
  /** One of us was mailed about them. */
  announced: { to: string; subject: string }
}

/** How the lines beside events are told. One without a sentence does not compile. */
export const BESIDE: { [K in keyof BesidePayloads]: (payload: BesidePayloads[K]) => Sentence } = {
  visit: ({ pages, source, device, place }) => [
    `Read ${count(pages.length, 'page', 'pages')} `,
    { faint: [cameFrom(source), device === 'other' ? 'some device' : device, place].filter(Boolean).join(', ') },
  ],
  unfinished: ({ sent, form, point, page }) => [
    ...(sent
      ? ['Filled in ', { strong: form ?? 'a form' }, ' on the site ']
      : ['Left ', { strong: point ?? form ?? 'a form' }, ' unfinished ']),
    { faint: `on ${pathOf(page)}` },
  ],
  mailed: ({ subject, kind }) => [
    {
      confirm: 'Asked to confirm the address ',
      meeting: 'Got the calendar file ',
      mail: 'Got a mail from us ',
      reminder: 'Was reminded of what they left unfinished ',
    }[kind],
    { faint: `“${subject}”` },
  ],
  announced: ({ to, subject }) => [`Mailed ${to} `, { faint: `“${subject}”` }],
}

/** A note with what became of it: who wrote it, how it is named, what it was changed to, the last last (null: removed). */
export type NotePayload = EventPayloads['note'] & { by: string | null; of: string; versions: { at: string; text: string | null }[] }
type Payloads = Omit<EventPayloads, 'entry' | 'note'> &
  BesidePayloads & { note: NotePayload; entry: EventPayloads['entry'] & { answers: AnswerInWords[] } }
export type LineKind = EventName | keyof BesidePayloads
/** A line of a lead's timeline, as the team reads it. */
export type TimelineLine = {
  [K in LineKind]: {
    id: string
    at: string
    kind: K
    actor: string | null
    /** Whoever did it took it back. */ undone?: true
    sentence: Sentence
    payload: Payloads[K]
  }
}[LineKind]

/** What a timeline can be narrowed to. */
export const TIMELINE_KINDS = {
  said: { name: 'Notes and calls', kinds: ['note', 'call', 'talked'] },
  mails: { name: 'Mails', kinds: ['wrote', 'replied', 'mailed', 'announced', 'clicked', 'unsubscribed', 'confirmed'] },
  theirs: {
    name: 'What they did',
    kinds: [
      'entry',
      'corrected',
      'visit',
      'unfinished',
      'typed',
      'meeting',
      'clicked',
      'replied',
      'confirmed',
      'claimed',
      'unsubscribed',
      'created',
    ],
  },
  ours: {
    name: 'What we did',
    kinds: [
      'note',
      'call',
      'wrote',
      'status',
      'owner',
      'next_step',
      'hand_over',
      'sent_back',
      'tags',
      'lists',
      'edited',
      'label_held',
      'judged',
      'merged',
      'split',
      'undone',
      'made',
    ],
  },
  ways: {
    name: 'Status and owner',
    kinds: ['status', 'owner', 'unowned', 'hand_over', 'sent_back', 'label', 'label_held', 'woke', 'promise', 'answered'],
  },
} as const satisfies Record<string, { name: string; kinds: readonly LineKind[] }>
export type TimelineFilter = keyof typeof TIMELINE_KINDS

/** All words of a line, in small letters, to be searched: its sentence, and what was said. A note is searched as it stands now. */
export function wordsOf(line: TimelineLine): string {
  const sentence = line.sentence
    .map(piece => (typeof piece === 'string' ? piece : 'strong' in piece ? piece.strong : 'faint' in piece ? piece.faint : piece.moment))
    .join('')
  const payload = line.payload as {
    text?: string | null
    subject?: string
    answers?: { question: string; text?: string }[]
    pages?: { path: string; title?: string | null }[]
  }
  const text = line.kind === 'note' && line.payload.versions.length ? line.payload.versions.at(-1)!.text : payload.text
  const answers = (payload.answers ?? []).flatMap(a => [a.question, a.text ?? ''])
  const pages = (payload.pages ?? []).flatMap(p => [p.path, p.title ?? ''])
  return [line.actor ?? '', sentence, text ?? '', payload.subject ?? '', ...answers, ...pages].join(' ').toLowerCase()
}
