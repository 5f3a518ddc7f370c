import { defineStore } from 'pinia'

export interface LiveChange {
  hello?: boolean; everything?: boolean; leads?: string[]; members?: string[]; ruleset?: boolean; review?: boolean; trail?: boolean; deliveries?: boolean; drafts?: string[]
  here?: { point: string; member: string }[]
}

/** The stream of what changes, as it happens; one a window. */
export const useLive = defineStore('live', () => {
  const connected = ref(true)
  const listeners = new Set<(change: LiveChange) => void>()
  let source: EventSource | null = null
  let lost = false
  let soon: ReturnType<typeof setTimeout> | undefined

  function open(): void {
    if (source) return
    source = new EventSource('/api/team/live')
    source.onmessage = (event) => {
      const change = JSON.parse(event.data) as LiveChange
      if (change.hello) {
        clearTimeout(soon)
        connected.value = true
        // While the line was down anything may have happened.
        if (lost) tell({ everything: true, ruleset: true })
        lost = false
      } else tell(change)
    }
    source.onerror = () => {
      lost = true
      // A short break mends itself; only a longer one is worth a word.
      clearTimeout(soon)
      soon = setTimeout(() => { connected.value = false }, 2500)
      if (source?.readyState === EventSource.CLOSED) {
        source = null
        void signedOut().then(out => out ? window.location.assign('/sign-in') : setTimeout(open, 2000))
      }
    }
  }
  /** The stream ends when its member is signed out, here or elsewhere; and when the line is down. */
  async function signedOut(): Promise<boolean> {
    const session = useSession()
    await session.look().catch(() => {})
    return session.me === null
  }
  const tell = (change: LiveChange) => listeners.forEach(listener => listener(change))
  function hear(listener: (change: LiveChange) => void): () => void {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }
  return { connected, open, hear }
})
