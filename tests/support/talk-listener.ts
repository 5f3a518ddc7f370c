import { randomUUID } from 'node:crypto'
import { CHAT } from '../../demo/chat'

export interface Line {
  n: number
  id: string
  by: string
  text: string
}
interface View {
  lines?: Line[]
}

/** A conversation as a browser has it: what was heard, by id, with when it was. */
export class Listener {
  heard = new Map<string, number>()
  order: Line[] = []
  last = 0
  private cut = new AbortController()
  private over = false
  constructor(
    readonly url: string,
    readonly id: string,
    readonly secret: string,
  ) {}

  start(): this {
    void this.listen()
    return this
  }
  private async listen(): Promise<void> {
    while (!this.over) {
      this.cut = new AbortController()
      try {
        const answer = await fetch(`${this.url}/w/chats/live`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ id: this.id, secret: this.secret, after: this.last }),
          signal: this.cut.signal,
        })
        if (!answer.ok) throw new Error(String(answer.status))
        const decoder = new TextDecoder()
        let text = ''
        for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
          text += decoder.decode(chunk, { stream: true })
          const parts = text.split('\n\n')
          text = parts.pop()!
          for (const part of parts) this.take(part)
        }
      } catch {
        /* It comes again. */
      }
      await new Promise(done => setTimeout(done, 150))
    }
  }
  private take(part: string): void {
    const data = /^data: (\{.*)$/m.exec(part)?.[1]
    if (!data) return
    for (const line of (JSON.parse(data) as View).lines ?? []) {
      if (line.n <= this.last) continue
      this.last = line.n
      this.order.push(line)
      this.heard.set(line.id, Date.now())
    }
  }
  drop(): void {
    this.cut.abort()
  }
  end(): void {
    this.over = true
    this.cut.abort()
  }
}

export const post = (url: string, body: unknown, cookie?: string) =>
  fetch(url, { method: 'POST', headers: { 'content-type': 'application/json', ...(cookie && { cookie }) }, body: JSON.stringify(body) })

/** Begins a conversation with the demo's chat. */
export async function begun(url: string): Promise<{ id: string; secret: string }> {
  const answer = await post(`${url}/w/chats`, { point: CHAT, by: 'tab', page: 'https://bench.example/' })
  if (answer.status !== 201) throw new Error(`A conversation could not be begun: ${answer.status} ${await answer.text()}`)
  const { id, secret } = (await answer.json()) as { id: string; secret: string }
  return { id, secret }
}
/** Says something until it is acknowledged, as the window does. */
export async function insist(url: string, c: { id: string; secret: string }, text: string, message = randomUUID()): Promise<string> {
  for (;;) {
    const answer = await post(`${url}/w/chats/said`, { ...c, after: 1e5, message, kind: 'text', text }).catch(() => null)
    if (answer?.status === 200) {
      await answer.arrayBuffer()
      return message
    }
    // What it does not want it will not want again.
    if (answer && answer.status >= 400 && answer.status < 500 && answer.status !== 429)
      throw new Error(`${answer.status} ${await answer.text()}`)
    await new Promise(done => setTimeout(done, 200))
  }
}
