import type { Role } from '#core/roles'
import type { Vocabulary } from '#core/vocabulary'

/** A line of an archive; see docs/archive.md. */
export type ArchiveLine = { at?: string } & (
  | { kind: 'house' } & Vocabulary
  | { kind: 'member'; email: string; name: string; role: Role; password: string }
  | { kind: 'scorecard'; definition: unknown }
  | { kind: 'routing'; definition: { version: 1; lanes: { key: string; name: string; when: unknown; pool: string[] }[] } }
  | { kind: 'point'; key: string; slug: string; name: string; definition: unknown; live: boolean }
  | { kind: 'style'; id: string; name: string; theme?: unknown; /** What an earlier Cavlin called it. */ look?: unknown }
  | { kind: 'segment'; id: string; name: string; condition: unknown }
  | { kind: 'list'; id: string; name: string }
  | { kind: 'file'; id: string; name: string; by: string; content: string }
  | { kind: 'page'; key: string; slug: string; name: string; definition: unknown; live: boolean }
  | { kind: 'view'; visitor: string; visit: string; page: string; title?: string; referrer?: string; utm?: Record<string, string>; language?: string; device?: 'computer' | 'phone' | 'tablet' | 'other'; place?: string; seconds?: number; depth?: number; did?: Record<string, unknown>[] }
  /** What was seen and begun of a form (its key) or landing page (`/p/slug`) on a day, and how far people came with the questions. */
  | {
    kind: 'count'; point: string; page: string; day: string; seen: number; started: number
    questions?: { question: string; reached: number; stopped: number }[]
  }
  | { kind: 'tried'; point: string; variant?: string; /** What an earlier Cavlin called it. */ wording?: string; visitor: string; answered: boolean }
  | { kind: 'entry'; point: string; body: unknown }
  | { kind: 'act'; lead: string; by: string; act: ArchiveAct }
  | { kind: 'seen'; until: string }
)
export type ArchiveAct = { do: 'status'; status: string } | { do: 'owner'; owner: string } | { do: 'note'; text: string } | { do: 'next_step'; text: string | null; due?: string }
