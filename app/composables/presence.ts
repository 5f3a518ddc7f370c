const BEAT_MS = 8_000

/** Who else has this point open: each screen says every few seconds that it is there. */
export function usePresence(point: string) {
  const session = useSession()
  const seen = ref<Record<string, number>>({})
  const stop = useLive().hear({ presence: [point] }, change => {
    for (const here of change.here ?? [])
      if (here.point === point && here.member !== session.me!.id) seen.value = { ...seen.value, [here.member]: Date.now() }
  })
  const beat = () => void api(`/api/team/points/${point}/here`, { method: 'POST' }).catch(() => {})
  const timer = setInterval(() => {
    beat()
    const gone = Date.now() - 2.5 * BEAT_MS
    seen.value = Object.fromEntries(Object.entries(seen.value).filter(([, at]) => at > gone))
  }, BEAT_MS)
  onMounted(beat)
  onScopeDispose(() => {
    stop()
    clearInterval(timer)
  })
  return computed(() => Object.keys(seen.value))
}
