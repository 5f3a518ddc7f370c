import type { SentBackWhy } from '#core/events/kinds/sent-back'
import type { CallResult, StepKind } from '#core/follow-up/state'
import type { Role } from '#core/roles'
import type { Vocabulary } from '#core/vocabulary'
import type { DayRange, DaySpan } from '#core/working-time'

/** A line of an archive; see docs/archive.md. */
export type ArchiveLine = { at?: string } & (
  | ({ kind: 'house'; house: ArchiveHouse } & Omit<Vocabulary, 'house'>)
  | ({ kind: 'member'; email: string; name: string; role: Role; password: string } & Partial<ArchiveHours>)
  | { kind: 'away'; member: string; from: string; until: string; standIn?: string }
  | { kind: 'scorecard'; definition: unknown }
  | { kind: 'routing'; definition: { version: 1 | 2; lanes: { pool: (string | { member: string; share?: number })[] }[] } }
  | { kind: 'point'; key: string; slug: string; name: string; definition: unknown; live: boolean }
  | { kind: 'style'; id: string; name: string; theme?: unknown; /** What an earlier Cavlin called it. */ look?: unknown }
  | { kind: 'segment'; id: string; name: string; condition: unknown }
  | { kind: 'list'; id: string; name: string }
  | { kind: 'file'; id: string; name: string; by: string; content: string }
  | { kind: 'page'; key: string; slug: string; name: string; definition: unknown; live: boolean }
  | {
      kind: 'view'
      visitor: string
      visit: string
      page: string
      title?: string
      referrer?: string
      utm?: Record<string, string>
      language?: string
      device?: 'computer' | 'phone' | 'tablet' | 'other'
      place?: string
      seconds?: number
      depth?: number
      did?: Record<string, unknown>[]
    }
  /** What was seen and begun of a form (its key) or landing page (`/p/slug`) on a day, and how far people came with the questions. */
  | {
      kind: 'count'
      point: string
      page: string
      day: string
      seen: number
      started: number
      questions?: { question: string; reached: number; stopped: number }[]
    }
  | {
      kind: 'tried'
      point: string
      variant?: string
      /** What an earlier Cavlin called it. */ wording?: string
      visitor: string
      answered: boolean
    }
  | { kind: 'entry'; point: string; body: unknown }
  | ArchiveConversation
  | { kind: 'note'; title: string; body: string; by: string }
  /** A question to try the notes on, with the title of the right one; null: none has the answer. */
  | { kind: 'note_question'; text: string; note: string | null }
  | { kind: 'act'; lead: string; by: string; act: ArchiveAct }
  | { kind: 'ready_text'; id: string; name: string; subject: string; body: string; by: string }
  | {
      kind: 'kept_view'
      id: string
      name: string
      /** Whose it is; missing: the team's. */ member?: string
      by: string
      query: Record<string, string | string[]>
      columns: string[]
    }
  | { kind: 'seen'; until: string }
)
/** Working hours as an archive has them: by day, Monday first, or as an earlier Cavlin had them, the same on some days. */
export interface ArchiveHouse {
  name: string
  zone: string
  country: string
  currency: string
  week?: DaySpan[][]
  holidays?: (DayRange & { name: string })[]
  workingDays?: number[]
  worksFrom?: number
  worksUntil?: number
}
/** What is somebody's own; the rest is as in the firm. */
export interface ArchiveHours {
  week: DaySpan[][]
  zone: string
  mostOpen: number
  languages: string[]
}
export type ArchiveAct =
  | { do: 'status'; status: string; reason?: string; value?: number; on?: string; until?: string }
  | { do: 'owner'; owner: string; words?: string }
  | { do: 'sent_back'; why: SentBackWhy; words?: string }
  | { do: 'note'; text: string }
  | { do: 'call'; result: CallResult; text?: string }
  | { do: 'next_step'; text: string | null; due?: string; step?: StepKind; done?: boolean; outcome?: string }

export interface ArchiveSaid {
  after: number
  by: 'visitor' | 'flow' | 'member' | 'house'
  text: string
  member?: string
  /** For colleagues only. */
  note?: boolean
  /** Their content in base64. */
  files?: { name: string; content: string }[]
  /** It came by mail. */
  mail?: { subject: string; quoted?: string }
  /** What had not been read went to this address. */
  mailed?: string
}
/** What was said through a chat. Answers are taken in as an entry. `after`: seconds since it began. */
export interface ArchiveConversation {
  kind: 'conversation'
  point: string
  began: 'tab' | 'greeting' | 'button' | 'page' | 'member'
  page?: string
  lines: ArchiveSaid[]
  answers?: Record<string, string | string[]>
  /** The steps of its flow that were taken. */
  way?: string[]
  /** What no note could answer. */
  unanswered?: string
  /** When a person was asked for. */
  asked?: number
  state: 'flow' | 'waiting' | 'talking' | 'ended'
  /** With whom of us it is, by their address. */
  member?: string
  rating?: number
  ratingText?: string
}
