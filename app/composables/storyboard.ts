import type { useEditing } from '~/composables/editing'

const PAUSE_MS = 150

/** A working copy without what makes it reactive: at once, and a moment later for what is not looked at while typing. */
export function useSettled<D>(definition: Readonly<Ref<D | null>>) {
  const plain = computed(() => definition.value && (JSON.parse(JSON.stringify(definition.value)) as D))
  const paused = shallowRef<D | null>(null)
  let pause: ReturnType<typeof setTimeout> | undefined
  watch(
    plain,
    now => {
      clearTimeout(pause)
      if (!paused.value) paused.value = now
      else
        pause = setTimeout(() => {
          paused.value = now
        }, PAUSE_MS)
    },
    { immediate: true },
  )
  onBeforeUnmount(() => clearTimeout(pause))
  return { plain, paused }
}

/** Undo and redo by key, and a word before something unsaved is left behind. */
export function useUnsavedGuard(
  edit: Pick<ReturnType<typeof useEditing>, 'undo' | 'redo' | 'unsaved' | 'state'>,
  mayEdit: Readonly<Ref<boolean>>,
): void {
  function press(event: KeyboardEvent): void {
    const typing = (event.composedPath()[0] as HTMLElement | undefined)?.matches?.('input, textarea, [contenteditable]')
    if (!(event.ctrlKey || event.metaKey) || typing || !mayEdit.value) return
    const key = event.key.toLowerCase()
    if (key !== 'z' && key !== 'y') return
    event.preventDefault()
    if (key === 'y' || event.shiftKey) edit.redo()
    else edit.undo()
  }
  const warn = (event: BeforeUnloadEvent) => {
    if (edit.unsaved.value) event.preventDefault()
  }
  onMounted(() => {
    window.addEventListener('beforeunload', warn)
    window.addEventListener('keydown', press)
  })
  onBeforeUnmount(() => {
    window.removeEventListener('beforeunload', warn)
    window.removeEventListener('keydown', press)
  })
  onBeforeRouteLeave(() => edit.state.value !== 'failed' || window.confirm('Your last changes are not saved. Leave all the same?'))
}

/** Makes a working copy live, and says so; what stands in the way is said, too. */
export function usePublishing(
  edit: Pick<ReturnType<typeof useEditing>, 'publish' | 'plan' | 'state' | 'undo' | 'steps'> & {
    point: Readonly<Ref<{ live: { number: number } | null } | null>>
  },
) {
  const say = useToasts()
  const publishing = ref(false)
  async function makeLive(): Promise<void> {
    publishing.value = true
    try {
      await edit.publish()
      if (edit.point.value?.live && edit.state.value === 'saved') say.done(`Edition ${edit.point.value.live.number} is live.`)
    } catch (error) {
      say.failed(error)
    } finally {
      publishing.value = false
    }
  }
  async function planGoingLive(at: string | null): Promise<void> {
    publishing.value = true
    try {
      await edit.plan(at)
      if (edit.state.value === 'saved') say.done(at ? `It goes live ${due(at)}.` : 'Nothing goes live by itself.')
    } catch (error) {
      say.failed(error)
    } finally {
      publishing.value = false
    }
  }
  let away = () => {}
  /** Says what was done last, with a way to undo it, until something else is done. */
  async function done(text: string): Promise<void> {
    await nextTick()
    away()
    const gone = say.done(text, async () => edit.undo())
    const stop = watch(edit.steps, () => away())
    away = () => {
      stop()
      gone()
      away = () => {}
    }
  }
  onScopeDispose(() => away())
  return { publishing, makeLive, planGoingLive, done }
}
