/** Streams that are open, by what ends each: a stop ends them, or it would wait for screens that nobody closes. */
const open = new Set<() => void>()
let stopping = false

/** Notes an open stream. @returns to be called when it has ended; null while we stop: then none is opened */
export function streamOpened(end: () => void): (() => void) | null {
  if (stopping) return null
  open.add(end)
  return () => void open.delete(end)
}

/** Ends all open streams and opens no more. */
export function endStreams(): void {
  stopping = true
  for (const end of [...open]) end()
  open.clear()
}
