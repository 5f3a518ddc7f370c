import { defineStore } from 'pinia'
import { common, concerns, joined, topicsQuery, type Topics } from '#core/live/topics'

export interface LiveChange extends Topics {
  here?: { point: string; member: string }[]
  /** Who is typing in which conversation; null: its visitor. */
  writing?: { conversation: string; member: string | null }[]
}
interface Listener {
  about: MaybeRefOrGetter<Topics>
  tell: (change: LiveChange) => void
  /** Hears also of who types. */ typing?: boolean
}

/** Screens that come and go together ask once. */
const TOGETHER_MS = 40
/** What was fetched just before a stream asks for it may have been read a moment earlier still. */
const MARGIN_MS = 1_500
const AGAIN_MS = 1_000
/** A short break mends itself; only a longer one is worth a word. */
const SILENT_MS = 2_500

/** The stream of what changes, as it happens, of what this window looks at. */
export const useLive = defineStore('live', () => {
  const connected = ref(true)
  const listeners = shallowReactive(new Set<Listener>())
  const wanted = computed(() => [...listeners].reduce((all, { about }) => joined(all, toValue(about)), {} as Topics))
  /** The stream that is listened to, and the one that is to take its place. */
  let source: EventSource | null = null
  let next: EventSource | null = null
  let covered: Topics = {}
  /** Since when something that is looked at may have changed without a word. */
  let unheard = Infinity
  let heardAt = Date.now()
  let timer: ReturnType<typeof setTimeout> | undefined
  let silent: ReturnType<typeof setTimeout> | undefined
  let isOpen = false

  const isCovered = () => topicsQuery(common(wanted.value, covered)) === topicsQuery(wanted.value)

  function open(): void {
    if (isOpen) return
    isOpen = true
    unheard = Date.now()
    watch(
      () => topicsQuery(wanted.value),
      () => {
        if (!isCovered()) unheard = Math.min(unheard, Date.now())
        askSoon(TOGETHER_MS)
      },
    )
    askSoon(TOGETHER_MS)
  }
  function askSoon(ms: number): void {
    clearTimeout(timer)
    timer = setTimeout(ask, ms)
  }
  /** Opens a stream for what is looked at now; the one before goes on until this one speaks. */
  function ask(): void {
    clearTimeout(timer)
    next?.close()
    const about = wanted.value
    const since = unheard
    const query = [topicsQuery(about), ...(since < Infinity ? [`lately=${Date.now() - since + MARGIN_MS}`] : [])].filter(Boolean).join('&')
    const mine = (next = new EventSource(`/api/team/live?${query}`))
    mine.onmessage = event => {
      heardAt = Date.now()
      const { hello, ...change } = JSON.parse(event.data) as LiveChange & { hello?: boolean }
      if (!hello) return tell(change)
      clearTimeout(silent)
      silent = undefined
      connected.value = true
      source?.close()
      source = mine
      next = null
      covered = about
      if (unheard === since && isCovered()) unheard = Infinity
    }
    mine.addEventListener('alive', () => {
      heardAt = Date.now()
    })
    mine.onerror = () => {
      const refused = mine.readyState === EventSource.CLOSED
      mine.close()
      if (mine === source) {
        source = null
        covered = {}
        unheard = Math.min(unheard, heardAt)
      } else if (mine === next) next = null
      else return
      silent ??= setTimeout(() => {
        connected.value = false
      }, SILENT_MS)
      if (refused) void signedOut().then(out => (out ? whenBack(() => askSoon(AGAIN_MS)) : askSoon(AGAIN_MS)))
      else askSoon(AGAIN_MS)
    }
  }
  /** The stream ends when its member is signed out, here or elsewhere; and when the line is down. */
  async function signedOut(): Promise<boolean> {
    const session = useSession()
    // Whoever was told so while they acted signs in again where they are.
    if (session.ended) return true
    await session.look().catch(() => {})
    if (!session.ended && session.me !== null) return false
    session.leave()
    return true
  }
  /** Whoever was signed out in the midst of something is asked to come in again; then the stream goes on. */
  function whenBack(go: () => void): void {
    const stop = watch(
      () => useSession().ended,
      ended => {
        if (ended) return
        stop()
        go()
      },
    )
  }
  function tell(change: LiveChange): void {
    const typed: Topics = change.writing ? { conversations: change.writing.map(w => w.conversation) } : {}
    for (const listener of [...listeners]) {
      const about = toValue(listener.about)
      if (concerns(about, change) || (listener.typing && concerns(about, typed))) listener.tell(change)
    }
  }
  /**
   * Calls `tell` when something of `about` changed, in this process or another.
   * @returns ends it
   */
  function hear(about: MaybeRefOrGetter<Topics>, tell: Listener['tell'], typing = false): () => void {
    const listener = { about, tell, typing }
    listeners.add(listener)
    return () => listeners.delete(listener)
  }
  return { connected, open, hear }
})
