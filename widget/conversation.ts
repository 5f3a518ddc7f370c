import type { PublicLine, PublicState } from '#core/chat/lines'
import type { PublicPoint } from '#core/points/definition'
import { newId, stored, visitorIfAgreed } from './agreement'
import type { Tools } from './tools'

export type Opened = 'tab' | 'greeting' | 'button' | 'page'
/** What the browser keeps of a conversation, of one that agreed. */
export interface Held {
  id: string
  secret: string
  at: number
  open: boolean
  seen: number
}
/** Something that was said here and is not known to have arrived. */
export interface Unsent {
  message: string
  text: string
  body: Record<string, unknown>
  /** They stay in this page alone. */
  files?: File[]
}
interface View {
  lines: PublicLine[]
  state: PublicState
}

const CHATS = 'cavlin.chats'
const DAY = 86_400_000
/** A line that says nothing for so long is dead: words of life come every 20 s. */
const SILENT_MS = 45_000
const AGAIN_MS = 1_000
const MOST_AGAIN_MS = 20_000
const TYPING_MS = 3_000

function all(): Record<string, Held & { unsent?: Unsent[] }> {
  try {
    return visitorIfAgreed() ? (JSON.parse(stored(CHATS) || '{}') as Record<string, Held>) : {}
  } catch {
    return {}
  }
}
function keep(key: string, held: (Held & { unsent?: Unsent[] }) | null): void {
  if (!visitorIfAgreed()) return
  const chats = all()
  if (held) chats[key] = held
  else delete chats[key]
  stored(CHATS, JSON.stringify(chats))
}

/** The conversation that this browser has with a chat, as long as the chat says that it is kept. */
export function heldFor({ key, chat }: PublicPoint): Held | null {
  const held = all()[key]
  if (!held) return null
  if (Date.now() - held.at < Math.max(1, chat!.keep) * DAY) return held
  keep(key, null)
  return null
}

function asForm(body: object, files: File[]): FormData {
  const form = new FormData()
  for (const [name, value] of Object.entries(body)) form.append(name, String(value))
  for (const file of files) form.append('file', file)
  return form
}

/** Said no, with why: what was sent stands with it, to be mended. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    why: string,
  ) {
    super(why)
  }
}

/** A conversation as this window has it: what was said, what is waited for, and what is on its way. */
export class Conversation {
  id = ''
  lines: PublicLine[] = []
  state: PublicState | null = null
  unsent: Unsent[] = []
  typing = ''
  /** What was wrong with what was sent last. */
  flaw = ''
  private secret = ''
  private seen = 0
  private isOpen = false
  private last = 0
  private listeners: (() => void)[] = []
  private stream: AbortController | null = null
  private sending: Promise<void> | null = null
  private beginning: Promise<void> | null = null
  private typedAt = 0

  constructor(
    private readonly point: PublicPoint,
    private readonly tools: Tools,
  ) {
    // One conversation, whichever window goes on with it.
    addEventListener('storage', ({ key }) => {
      if (key !== CHATS) return
      const held = all()[point.key]
      if (held && held.id !== this.id) this.resume(held)
      else if (held && held.seen > this.seen) this.seen = held.seen
      else if (!held && this.id && visitorIfAgreed()) this.reset()
      this.changed()
    })
    addEventListener('online', () => void this.flush())
  }

  onChange(listener: () => void): () => void {
    this.listeners.push(listener)
    return () => {
      this.listeners = this.listeners.filter(l => l !== listener)
    }
  }
  private changed(): void {
    for (const listener of this.listeners) listener()
  }

  unread = (): number => this.lines.filter(l => l.n > this.seen && l.by !== 'visitor' && l.text).length

  /** Goes on with what this browser keeps. */
  resume(held: Held & { unsent?: Unsent[] }): void {
    this.reset()
    ;({ id: this.id, secret: this.secret, seen: this.seen } = held)
    this.unsent = held.unsent ?? []
    void this.listen()
    if (this.unsent.length) void this.flush()
  }

  private reset(): void {
    this.stream?.abort()
    this.stream = null
    Object.assign(this, { id: '', secret: '', lines: [], state: null, seen: 0, last: 0, unsent: [], flaw: '', typing: '' })
  }
  /** Nothing of it stays in this browser. */
  forget(): void {
    keep(this.point.key, null)
    this.reset()
    this.changed()
  }
  private store(): void {
    if (this.id)
      keep(this.point.key, {
        id: this.id,
        secret: this.secret,
        at: Date.now(),
        open: this.isOpen,
        seen: this.seen,
        unsent: this.unsent.filter(u => !u.files),
      })
  }
  keepOpen(open: boolean): void {
    this.isOpen = open
    this.store()
  }

  /** Begins, where there is none yet. */
  begin(by: Opened): Promise<void> {
    if (this.id) return Promise.resolve()
    this.beginning ??= this.ask('', {
      point: this.point.key,
      visitor: this.tools.visitor(),
      page: location.href,
      language: this.point.language,
      by,
    })
      .then(found => {
        const begun = found as View & { id: string; secret: string }
        ;({ id: this.id, secret: this.secret } = begun)
        this.take(begun)
        this.store()
        void this.listen()
      })
      .finally(() => {
        this.beginning = null
      })
    return this.beginning
  }

  /** Says something; it goes out at once, or as soon as there is a line. */
  say(text: string, body: Record<string, unknown>, files?: File[]): void {
    this.flaw = ''
    this.unsent.push({ message: newId(), text, body, ...(files && { files }) })
    this.store()
    this.changed()
    void this.flush()
  }

  private flush(): Promise<void> {
    this.sending ??= this.sendAll().finally(() => {
      this.sending = null
    })
    return this.sending
  }
  private async sendAll(): Promise<void> {
    for (let wait = AGAIN_MS; this.unsent.length;) {
      const { message, body, files } = this.unsent[0]!
      try {
        const view = (await this.ask(files ? '/files' : '/said', { ...this.holder(), after: this.last, message, ...body }, files)) as View
        this.unsent.shift()
        wait = AGAIN_MS
        this.take(view)
      } catch (error) {
        if (!(error instanceof Refused)) {
          // The line is down: it is tried until it arrives, and counts once.
          this.changed()
          await new Promise(done => setTimeout(done, wait))
          wait = Math.min(MOST_AGAIN_MS, wait * 2)
          continue
        }
        if (error.status === 429) {
          await new Promise(done => setTimeout(done, MOST_AGAIN_MS))
          continue
        }
        this.unsent.shift()
        this.flaw = error.message
        if (error.status === 404) this.forget()
      }
      this.store()
      this.changed()
    }
  }

  /** All up to here was seen. */
  read(): void {
    const last = this.lines.at(-1)?.n ?? 0
    if (!this.id || last <= this.seen) return
    this.seen = last
    this.store()
    void this.ask('/seen', { ...this.holder(), upTo: last }).catch(() => {})
  }
  /** Somebody types: the others see it, some seconds long. */
  types(): void {
    if (!this.id || this.state?.waits !== 'nothing' || Date.now() - this.typedAt < TYPING_MS) return
    this.typedAt = Date.now()
    void this.ask('/seen', { ...this.holder(), upTo: this.seen, typing: true }).catch(() => {})
  }

  private holder = () => ({ id: this.id, secret: this.secret })

  private async ask(path: string, body: object, files?: File[]): Promise<unknown> {
    const answer = await fetch(`${this.tools.base}/w/chats${path}`, {
      method: 'POST',
      ...(files ? { body: asForm(body, files) } : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    })
    if (answer.status === 204) return null
    // Who stands before us and cannot reach us answers in words of its own.
    if (answer.status > 500) throw new Error(String(answer.status))
    const said = (await answer.json()) as { detail?: string }
    if (!answer.ok) throw new Refused(answer.status, said.detail ?? this.point.words.failed)
    return said
  }

  private take({ lines, state }: View): void {
    for (const line of lines) {
      const at = this.lines.findIndex(l => l.n === line.n)
      if (at >= 0) this.lines[at] = line
      else this.lines.push(line)
      if (line.by !== 'visitor') this.typing = ''
    }
    this.lines.sort((a, b) => a.n - b.n)
    // What waits to be answered may have been answered in another window.
    if (!this.state || state.last >= this.state.last) this.state = state
    this.last = Math.max(this.last, this.lines.at(-1)?.n ?? 0)
    this.unsent = this.unsent.filter(u => !this.lines.some(l => l.id === u.message))
    this.changed()
  }

  /** Hears what is said, for as long as the page is open. */
  private async listen(): Promise<void> {
    this.stream?.abort()
    const stream = (this.stream = new AbortController())
    for (let wait = AGAIN_MS; !stream.signal.aborted;) {
      try {
        if (
          await this.hear(stream, () => {
            wait = AGAIN_MS
          })
        )
          return this.forget()
      } catch {
        // It comes again by itself.
      }
      await new Promise(done => setTimeout(done, wait * (0.7 + Math.random() * 0.6)))
      wait = Math.min(MOST_AGAIN_MS, wait * 2)
    }
  }
  /** @returns true when there is no such conversation any more */
  private async hear(stream: AbortController, lives: () => void): Promise<boolean> {
    const one = new AbortController()
    const end = () => one.abort()
    stream.signal.addEventListener('abort', end)
    let timer = setTimeout(end, SILENT_MS)
    try {
      const answer = await fetch(`${this.tools.base}/w/chats/live`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ ...this.holder(), after: this.last }),
        signal: one.signal,
      })
      if (answer.status === 404) return true
      if (!answer.ok) throw new Error(String(answer.status))
      const reader = answer.body!.getReader()
      const decoder = new TextDecoder()
      for (let text = ''; ;) {
        const { value, done } = await reader.read()
        if (done) return false
        clearTimeout(timer)
        timer = setTimeout(end, SILENT_MS)
        lives()
        text += decoder.decode(value, { stream: true })
        const parts = text.split('\n\n')
        text = parts.pop()!
        for (const part of parts) this.heard(part)
      }
    } finally {
      clearTimeout(timer)
      stream.signal.removeEventListener('abort', end)
      one.abort()
    }
  }
  private heard(part: string): void {
    if (/^event: alive/m.test(part)) return
    const data = /^data: (.*)$/m.exec(part)?.[1]
    if (!data) return
    const said = JSON.parse(data) as View & { typing?: string }
    if (said.typing === undefined) return this.take(said)
    this.typing = said.typing
    this.changed()
    setTimeout(() => {
      this.typing = ''
      this.changed()
    }, 2 * TYPING_MS)
  }
}
