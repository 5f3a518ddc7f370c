/** The time, some seconds old at most. */
export function useNow(everyMs = 10_000): Readonly<Ref<number>> {
  const now = ref(Date.now())
  const timer = setInterval(() => {
    now.value = Date.now()
  }, everyMs)
  onScopeDispose(() => clearInterval(timer))
  return now
}
