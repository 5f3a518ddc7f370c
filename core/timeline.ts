import type { Sentence } from '#core/events/kind'
import { pathOf } from '#core/events/kind'
import type { EventName, EventPayloads } from '#core/events/registry'
import { count } from '#core/text'
import { cameFrom, type ReadPage } from '#core/trail/visits'

/** An answer as the team reads it. */
export interface AnswerInWords { question: string; text: string; files?: { id: string; name: string }[] }

/** A visit with its pages; times within it in milliseconds since 1970. */
export interface VisitPayload { site: string; source: string; device: string; place: string | null; visitor: string; pages: ReadPage[] }
/** What was typed and not sent: into a point, or a form of the site's own, which may have been sent there. */
export interface UnfinishedPayload { point: string | null; form: string | null; page: string; sent: boolean; answers: { question: string; text: string }[] }

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
    `Read ${count(pages.length, 'page', 'pages')} `, { faint: [cameFrom(source), device === 'other' ? 'some device' : device, place].filter(Boolean).join(', ') },
  ],
  unfinished: ({ sent, form, point, page }) => [
    ...(sent ? ['Filled in ', { strong: form ?? 'a form' }, ' on the site '] : ['Left ', { strong: point ?? form ?? 'a form' }, ' unfinished ']), { faint: `on ${pathOf(page)}` },
  ],
  mailed: ({ subject, kind }) => [
    { confirm: 'Asked to confirm the address ', meeting: 'Got the calendar file ', mail: 'Got a mail from us ', reminder: 'Was reminded of what they left unfinished ' }[kind], { faint: `“${subject}”` },
  ],
  announced: ({ to, subject }) => [`Mailed ${to} `, { faint: `“${subject}”` }],
}

type Payloads = Omit<EventPayloads, 'entry'> & BesidePayloads & { entry: EventPayloads['entry'] & { answers: AnswerInWords[] } }
export type LineKind = EventName | keyof BesidePayloads
/** A line of a lead's timeline, as the team reads it. */
export type TimelineLine = { [K in LineKind]: { id: string; at: string; kind: K; actor: string | null; sentence: Sentence; payload: Payloads[K] } }[LineKind]
