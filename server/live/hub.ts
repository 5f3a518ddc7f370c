import { keepListening } from '#db/listen'
import { CHANNEL, merge, type Change } from '#server/live/say'

export type Listener = (change: Change & { everything?: boolean }) => void

/** The first change is passed on at once, what follows within this time together. */
const GATHER_MS = 60

/**
 * Hears what changed, from any process, and passes it on to this process's listeners.
 * After a lost connection they are told that everything may have changed.
 */
export function createHub(url: string) {
  const listeners = new Set<Listener>()
  let waiting: Change | null = null
  let timer: NodeJS.Timeout | null = null

  function flush() {
    if (!waiting) {
      timer = null
      return
    }
    const change = waiting
    waiting = null
    timer = setTimeout(flush, GATHER_MS)
    for (const listener of listeners) listener(change)
  }

  return {
    start(): () => Promise<void> {
      return keepListening(url, 'cavlin hub', CHANNEL, (text) => {
        waiting = merge(waiting, JSON.parse(text) as Change)
        if (!timer) flush()
      }, (again) => {
        if (again) for (const listener of listeners) listener({ everything: true, ruleset: true })
      })
    },
    hear(listener: Listener): () => void {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
  }
}
