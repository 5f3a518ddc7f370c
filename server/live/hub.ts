import { EVERYTHING, joined, topicsOf, type Topics } from '#core/live/topics'
import { keepListening } from '#db/listen'
import { CHANNEL, merge, type Change } from '#server/live/say'

export type Listener = (change: Change) => void

/** The first change is passed on at once, what follows within this time together. */
const GATHER_MS = 60
/** So long, and so many, are remembered for screens that come a moment later. */
const REMEMBERED_MS = 60_000
const MOST_REMEMBERED = 1_000

/**
 * Hears what changed, from any process, and passes it on to this process's listeners.
 * After a lost connection they are told that everything may have changed.
 */
export function createHub(url: string) {
  const listeners = new Set<Listener>()
  const remembered: { at: number; topics: Topics }[] = []
  /** Since when nothing is missing from what is remembered. */
  let since = Infinity
  let waiting: Change | null = null
  let timer: NodeJS.Timeout | null = null

  function pass(change: Change): void {
    const now = Date.now()
    remembered.push({ at: now, topics: topicsOf(change) })
    while (remembered.length > MOST_REMEMBERED || remembered[0]!.at < now - REMEMBERED_MS)
      since = Math.max(since, remembered.shift()!.at + 1)
    for (const listener of listeners) listener(change)
  }
  function flush() {
    if (!waiting) {
      timer = null
      return
    }
    const change = waiting
    waiting = null
    timer = setTimeout(flush, GATHER_MS)
    pass(change)
  }

  return {
    start(): () => Promise<void> {
      return keepListening(
        url,
        'cavlin hub',
        CHANNEL,
        text => {
          waiting = merge(waiting, JSON.parse(text) as Change)
          if (!timer) flush()
        },
        again => {
          since = Math.min(since, Date.now())
          if (again) pass(EVERYTHING)
        },
      )
    },
    hear(listener: Listener): () => void {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    /** What changed within the last so many ms; everything when that is longer than we know of. */
    lately(ms: number): Topics {
      const from = Date.now() - ms
      if (from < since) return EVERYTHING
      return remembered.reduce((all, r) => (r.at >= from ? joined(all, r.topics) : all), {} as Topics)
    },
  }
}
