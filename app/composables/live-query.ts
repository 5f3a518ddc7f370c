import type { Topics } from '#core/live/topics'

/**
 * Something fetched that stays fresh: again at once when something of `about` changed, at most
 * once in `gapMs` while changes pour in. An answer that was overtaken by a later one is dropped.
 */
export function useLiveQuery<T>(fetcher: () => Promise<T>, about: MaybeRefOrGetter<Topics>, gapMs = 150) {
  const data = shallowRef<T | null>(null)
  const problem = ref<ApiError | null>(null)
  let asked = 0
  let shown = 0
  let last = 0
  let timer: ReturnType<typeof setTimeout> | undefined

  async function refresh(): Promise<void> {
    clearTimeout(timer)
    timer = undefined
    last = Date.now()
    const mine = ++asked
    try {
      const fetched = await fetcher()
      if (mine > shown) {
        shown = mine
        data.value = fetched
        problem.value = null
      }
    } catch (error) {
      if (mine > shown && error instanceof ApiError) problem.value = error
      else if (!(error instanceof ApiError)) throw error
    }
  }
  const stop = useLive().hear(about, () => {
    timer ??= setTimeout(() => void refresh(), Math.max(0, last + gapMs - Date.now()))
  })
  onScopeDispose(() => {
    stop()
    clearTimeout(timer)
  })
  void refresh()
  return { data, problem, refresh }
}
