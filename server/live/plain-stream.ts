import type { H3Event } from 'h3'

/** Lines of life, so that what stands between does not take a quiet line for a dead one. */
const ALIVE_MS = 20_000
/** Should a word get lost, nobody waits for longer than this. */
const CATCH_UP_MS = 15_000
const ROUND_MS = 1_000

interface Open {
  alive: () => void
  look: () => void
  aliveAt: number
  lookAt: number
}
/** One clock for all streams: with one each, the clocks would be half of what a quiet stream costs. */
const open = new Set<Open>()
let clock: NodeJS.Timeout | undefined
function round(): void {
  const now = Date.now()
  for (const stream of open) {
    if (now >= stream.aliveAt) {
      stream.aliveAt = now + ALIVE_MS
      stream.alive()
    }
    if (now >= stream.lookAt) {
      stream.lookAt = now + CATCH_UP_MS
      stream.look()
    }
  }
}

export interface PlainStream {
  /** Sends an event's data, one line of text. */
  push: (data: string) => void
  close: () => void
}

/**
 * Answers with server-sent events (WHATWG HTML, 9.2), written to the answer itself: a `TransformStream` costs as much memory as the line.
 * @param look is there something new? Asked every 15 s
 * @param closed called once, when it is over
 */
export function plainStream(event: H3Event, look: () => void, closed: () => void): PlainStream {
  const { res } = event.node
  const push = (text: string) => void (res.writable && res.write(text))
  const close = () => void res.end()
  const stream = { push: (data: string) => push(`data: ${data}\n\n`), close }
  // Whoever left while we looked who they are says so no more.
  if (res.closed) {
    closed()
    return stream
  }
  res.writeHead(200, {
    'content-type': 'text/event-stream',
    'cache-control': 'private, no-cache, no-store, no-transform, must-revalidate, max-age=0',
    'x-accel-buffering': 'no',
    ...(event.node.req.httpVersion !== '2.0' && { connection: 'keep-alive' }),
  })
  res.flushHeaders()
  const now = Date.now()
  const own: Open = { alive: () => push('event: alive\ndata: yes\n\n'), look, aliveAt: now + ALIVE_MS, lookAt: now + CATCH_UP_MS }
  open.add(own)
  clock ??= setInterval(round, ROUND_MS).unref()
  res.once('close', () => {
    open.delete(own)
    closed()
  })
  return stream
}
