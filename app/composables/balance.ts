import type { Balance } from '#core/quiz/balance'
import type { PointDefinition } from '#core/points/definition'

const PAUSE_MS = 250

/**
 * How often each result of a quiz comes up, worked out beside the screen a moment after each change. What is not wanted any more is ended.
 * @param chosen how often each choice was really chosen; null: each is as likely
 */
export function useBalance(definition: Ref<PointDefinition | null>, chosen: Ref<Map<string, Map<string, number>> | null>) {
  const balance = shallowRef<Balance | null>(null)
  const working = ref(false)
  const failed = ref(false)
  let worker: Worker | null = null
  let timer: ReturnType<typeof setTimeout> | undefined
  let asked = ''

  function end(): void {
    worker?.terminate()
    worker = null
    working.value = false
  }
  function work(): void {
    const { quiz, questions } = definition.value ?? {}
    if (!quiz?.results.length || !questions) {
      balance.value = null
      return end()
    }
    const text = JSON.stringify({ quiz, questions })
    const like = JSON.stringify([...(chosen.value ?? [])].map(([key, shares]) => [key, ...shares]))
    if (text + like === asked) return
    asked = text + like
    if (working.value) end()
    worker ??= new Worker(new URL('../workers/balance.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<Balance>) => {
      balance.value = data
      working.value = false
    }
    worker.onerror = () => {
      failed.value = true
      end()
    }
    working.value = true
    failed.value = false
    worker.postMessage({ ...(JSON.parse(text) as object), chosen: toRaw(chosen.value) })
  }
  watch(
    [definition, chosen],
    () => {
      clearTimeout(timer)
      timer = setTimeout(work, PAUSE_MS)
    },
    { immediate: true },
  )
  onBeforeUnmount(() => {
    clearTimeout(timer)
    end()
  })
  return { balance, working, failed }
}
