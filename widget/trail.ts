import type { TrailKind } from '#core/trail/events'
import { known, newId, stored, visitorIfAgreed } from './agreement'
import { origin } from './origin'

/** Records what visitors do who agreed, and sends it: soon, once, and also when the tab closes or the line was down. */
const UNSENT = 'cavlin.unsent'
const MOST_BATCHES = 8
const MOST_LENGTH = 48_000
const SOON_MS = 300
const LATER_MS = 4000
/** After that it is tried again by itself, then after twice as long, and so on. */
const AGAIN_MS = 3000
const LONGEST_MS = 60_000

type Sent = Record<string, unknown>
interface Batch {
  id: string
  visit: string
  events: Sent[]
  referrer?: string
  utm?: Record<string, string>
}
export interface Spoken {
  point: string
  id: string
  secret: string
}
export type Trail = ReturnType<typeof createTrail>

/** @param spoken hears that one of us spoke to them */
export function createTrail(base: string, spoken: (to: Spoken) => void) {
  let waiting: Sent[] = []
  let timer = 0
  let due = 0
  let again = AGAIN_MS

  const unsent = (): Batch[] => {
    try {
      return JSON.parse(stored(UNSENT) || '[]') as Batch[]
    } catch {
      return []
    }
  }
  const keep = (batches: Batch[]) => stored(UNSENT, batches.length ? JSON.stringify(batches.slice(-MOST_BATCHES)) : null)

  /** @param data of the kind; see `core/trail/events` */
  function record(kind: TrailKind, data: Sent = {}, soon = false): void {
    if (!visitorIfAgreed() || waiting.length > 100) return
    waiting.push({ kind, at: Date.now(), path: location.pathname, ...data })
    sendIn(soon ? SOON_MS : LATER_MS)
  }
  function sendIn(ms: number): void {
    const at = Date.now() + ms
    if (timer && due <= at) return
    clearTimeout(timer)
    due = at
    timer = setTimeout(send, ms) as unknown as number
  }
  const failed = () => {
    sendIn(again)
    again = Math.min(LONGEST_MS, again * 2)
  }

  /**
   * A batch stays in the browser until the server said that it has it. What a closing tab sent comes once more
   * with the next page: the server takes each batch once.
   */
  function send(closing?: boolean): void {
    clearTimeout(timer)
    timer = 0
    const who = known(Date.now())
    if (!who) return void (waiting = [])
    const { referrer, utm } = origin()
    let batches = unsent()
    if (waiting.length) {
      batches.push({
        id: newId(),
        visit: who.visit,
        events: waiting,
        ...(referrer && { referrer }),
        ...(Object.keys(utm).length && { utm }),
      })
      waiting = []
      keep(batches)
    }
    if (!batches.length) return
    batches = batches.slice(-MOST_BATCHES)
    const pack = () =>
      JSON.stringify({ visitor: who.visitor, site: location.origin, sent: Date.now(), language: navigator.language, batches })
    let body = pack()
    // The server takes 64 kB in one go; what is newer waits for the next.
    while (body.length > MOST_LENGTH && batches.length > 1) {
      batches = batches.slice(0, -1)
      body = pack()
    }
    if (closing === true && navigator.sendBeacon?.(`${base}/w/trail`, body)) return
    fetch(`${base}/w/trail`, { method: 'POST', body, keepalive: body.length < MOST_LENGTH }).then(answer => {
      const { status } = answer
      if (status === 200)
        answer.json().then(
          said => spoken(said.spoken),
          () => {},
        )
      // Too many at once, or something broken over there: later. What it does not want is not offered again.
      if (status === 429 || status > 499) return failed()
      again = AGAIN_MS
      const done = batches.map(b => b.id)
      keep(unsent().filter(b => !done.includes(b.id)))
    }, failed)
  }
  addEventListener('online', () => send())
  return { record, send }
}
