import { partsOf } from '#core/mails/template'

/** A file that was sent in a conversation. */
export interface TalkFile {
  id: string
  name: string
  type: string
  size: number
}
/** What stands with a line of a conversation beside its text. */
export type More =
  /** Something to press. `taken`: what was pressed. */
  | { kind: 'choices'; step: string; choices: string[] }
  | { kind: 'question'; step: string; question: string }
  /** What was understood, to be said right or wrong. */
  | { kind: 'read_back'; step: string }
  /** What was wrong with an answer. */
  | { kind: 'flaw'; step: string }
  /** Free times, by their moments in ms. */
  | { kind: 'times'; step: string; times: number[] }
  /** Notes to choose one of, by their ids. */
  | { kind: 'mean'; step: string; notes: string[]; choices: string[]; asked: string }
  /** Answered out of a note. */
  | { kind: 'note'; note: string; name: string }
  | { kind: 'picture'; step: string }
  /** The visitor's answer to a question. */
  | { kind: 'answer'; question: string }
  /** Files, by their names in the text; of a visitor's answer with its question. */
  | { kind: 'files'; files: TalkFile[]; question?: string }
  /** An address may be left. */
  | { kind: 'address' }
  /** How it was is asked. */
  | { kind: 'rating' }
  /** One of us came, handed it on, or ended it. */
  | { kind: 'joined' }
  | { kind: 'handed'; to: string | null }
  | { kind: 'over' }
  /** It came by mail. `from`: from another address than the one that we write to. `auto`: a program answered. */
  | { kind: 'mail'; subject: string; quoted: string; from: string | null; auto: boolean }
  /** What was not read here went to their address. */
  | { kind: 'mailed'; to: string }
  /** The answers were taken in as an entry. */
  | { kind: 'entry'; entry: string }

/** Whether a line came by mail from a program, or from another address than we wrote to: it is for us to judge, and never told to the visitor. */
export const isForUsAlone = (more: More | null): boolean => more?.kind === 'mail' && (more.auto || more.from !== null)

/** Who speaks in a conversation: the visitor, the flow, one of us, or the house about what happens. */
export type Speaker = 'visitor' | 'flow' | 'member' | 'house'

/** A line as its visitor gets it. */
export interface PublicLine {
  n: number
  id: string
  /** Milliseconds since 1970. */
  at: number
  by: Speaker
  /** Of one of us: what they are called. */
  name?: string
  text: string
  /** Drawn: what is asked, a picture, or a note, whose text is Markdown. */
  html?: string
  /** Where an answer is from: a note, by its name. */
  from?: string
  /** What can be pressed, while it is waited for. */
  choices?: string[]
  files?: { name: string; size: number; url: string; isPicture: boolean }[]
  what?: More['kind']
}
/** Where a conversation stands, for its visitor. */
export interface PublicState {
  waits: 'choice' | 'answer' | 'right' | 'time' | 'mean' | 'words' | 'address' | 'rating' | 'nothing'
  /** Whether anything can be written. */
  open: boolean
  /** Up to which line one of us has read. */
  read: number
  last: number
  /** Who of us is here. */
  with: string | null
}

/** Letters of one message. */
export const MOST_MESSAGE = 2000
/** Lines of one conversation. */
export const MOST_LINES = 2000

/** A text of a flow with its placeholders filled in. @param known what stands for a name; nothing: what stands in for it, or nothing at all */
export const filled = (text: string, known: (name: string) => string | null | undefined): string =>
  partsOf(text)
    .map(part => (typeof part === 'string' ? part : known(part.name)?.trim() || part.fallback))
    .join('')

const INVISIBLE = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\u007F\u202A-\u202E\u2066-\u2069]/g
/** What somebody wrote, as it is kept: without signs that turn the direction of what stands beside it, and at most so long. */
export const asMessage = (text: string): string => text.replace(/\r\n?/g, '\n').replace(INVISIBLE, '').trim()
