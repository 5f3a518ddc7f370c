import type { PointDefinition } from '#core/points/definition'
import { merge, onlyDifference, same } from '#core/points/merge'
import type { Topics } from '#core/live/topics'
import type { PointView } from '#core/team'

const PAUSE_MS = 600
/** Changes of one text closer together than this are one step of undo. */
const STEP_MS = 800
const MOST_STEPS = 200

/** What is worked on in this way, as the server has it. */
export interface WorkedOn<D> {
  name: string
  workingCopy: D
  revision: number
}
/** Where it is kept, and which news are about it. */
export interface WorkPlace {
  at: string
  hears: Topics
}
const ofPoint = (id: string): WorkPlace => ({ at: `/api/team/points/${id}`, hears: { drafts: [id], points: [id], styles: true } })

interface CopyOf<D> {
  name: string
  definition: D
}
const cloned = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

/**
 * The working copy of a point, or of the scorecard, in hand: saved a moment after each change, undone and redone
 * step by step. What a colleague changes meanwhile is merged in; where both changed the same
 * text, mine stands and `conflict` says so. Nothing typed is lost when saving fails.
 */
export function useEditing<D = PointDefinition, V extends WorkedOn<D> = PointView<D>>(place: string | WorkPlace) {
  type Copy = CopyOf<D>
  const { at: address, hears } = typeof place === 'string' ? ofPoint(place) : place
  const point = shallowRef<V | null>(null)
  const name = ref('')
  const definition = ref(null) as Ref<D | null>
  const state = ref<'fetching' | 'saved' | 'changed' | 'saving' | 'failed' | 'missing'>('fetching')
  const problem = ref('')
  const conflict = ref('')
  /** Grows with each change of mine, and with each that is taken back or done again. */
  const steps = ref(0)
  const past = shallowRef<Copy[]>([])
  const future = shallowRef<Copy[]>([])
  /** As the server has it. */
  let kept: Copy | null = null
  /** As it was after the last step. */
  let settled: Copy | null = null
  let steppedAt = 0
  let steppedIn: string | null = null
  let timer: ReturnType<typeof setTimeout> | undefined
  let saving: Promise<void> | null = null

  const now = (): Copy => cloned({ name: name.value, definition: definition.value! }) as Copy
  function put(copy: Copy): void {
    name.value = copy.name
    definition.value = cloned(copy.definition)
    settled = now()
  }

  /** Takes in what the server has, and keeps what I changed since. */
  function take(fetched: V): void {
    const theirs: Copy = { name: fetched.name, definition: fetched.workingCopy }
    const { merged, conflicts } = kept && definition.value ? merge(kept, now(), theirs) : { merged: theirs, conflicts: [] }
    point.value = fetched
    // A step that I take back later must not take theirs back with it.
    const before = kept
    if (before && !same(before, theirs))
      for (const all of [past, future]) all.value = all.value.map(copy => merge(before, copy, theirs).merged)
    kept = cloned(theirs)
    if (!definition.value || !same(merged, now())) put(merged)
    if (conflicts.length)
      conflict.value = `Somebody else changed the same thing at the same moment (${conflicts.map(inWords).join(', ')}). What you wrote stands.`
  }
  const inWords = (path: string) =>
    path
      .split('.')
      .at(-1)!
      .replace(/([A-Z])/g, ' $1')
      .toLowerCase()

  async function load(): Promise<void> {
    try {
      take(await api<V>(address))
      state.value = 'saved'
      problem.value = ''
    } catch (error) {
      state.value = 'missing'
      problem.value = (error as Error).message
    }
  }
  watch(
    [name, definition],
    () => {
      if (!kept || !definition.value) return
      const copy = now()
      if (settled && !same(copy, settled)) remember(copy)
      clearTimeout(timer)
      if (same(copy, kept)) {
        if (state.value === 'changed') state.value = 'saved'
        return
      }
      state.value = 'changed'
      timer = setTimeout(() => void save(), PAUSE_MS)
    },
    { deep: true },
  )

  function remember(copy: Copy): void {
    steps.value++
    const at = Date.now()
    const place = onlyDifference(settled, copy)
    const goesOn = place !== null && place === steppedIn && at - steppedAt <= STEP_MS
    if (!goesOn || !past.value.length) past.value = [...past.value, settled!].slice(-MOST_STEPS)
    steppedAt = at
    steppedIn = place
    settled = copy
    future.value = []
  }
  /** Takes back, or does again, one step of mine; what others changed since stays. */
  function step(from: typeof past, to: typeof past): void {
    const target = from.value.at(-1)
    if (!target) return
    steps.value++
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, now()]
    steppedAt = 0
    put(target)
  }
  const undo = () => step(past, future)
  const redo = () => step(future, past)

  /** Saves what has changed, after a saving that is under way. */
  async function save(): Promise<void> {
    clearTimeout(timer)
    while (saving) await saving
    if (!kept || same(now(), kept)) return
    saving = write().finally(() => {
      saving = null
    })
    await saving
  }
  async function write(): Promise<void> {
    state.value = 'saving'
    for (let tries = 0; ; tries++) {
      const sent = now()
      try {
        const { revision } = await api<{ revision: number }>(address, { method: 'PUT', body: { revision: point.value!.revision, ...sent } })
        kept = sent
        point.value = { ...point.value!, revision, name: sent.name, workingCopy: sent.definition }
        problem.value = ''
        state.value = same(now(), sent) ? 'saved' : 'changed'
        if (state.value === 'changed') timer = setTimeout(() => void save(), PAUSE_MS)
        return
      } catch (error) {
        const status = error instanceof ApiError ? error.status : -1
        // Somebody was faster: both changes are brought together and saved once more.
        if (status === 409 && tries < 5) {
          take(await api<V>(address))
          continue
        }
        problem.value = (error as Error).message
        state.value = 'failed'
        if (status === 0) timer = setTimeout(() => void save(), 3000)
        return
      }
    }
  }
  /** @throws ApiError with the stops, when it may not go live */
  async function publish(): Promise<void> {
    await save()
    if (state.value !== 'saved') return
    take(await api<V>(`${address}/publish`, { method: 'POST', body: { revision: point.value!.revision } }))
  }
  /** Lets the working copy go live by itself at a moment, or no more. @throws ApiError with the stops, when it may not */
  async function plan(at: string | null): Promise<void> {
    await save()
    if (state.value !== 'saved') return
    take(
      await api<V>(`${address}/going-live`, at ? { method: 'PUT', body: { revision: point.value!.revision, at } } : { method: 'DELETE' }),
    )
  }
  /** Takes another definition as the working copy, as one step that can be undone. */
  function replace(next: D): void {
    steppedAt = 0
    definition.value = cloned(next)
  }
  // A colleague, or I in another window: what is untouched here follows, what is not is merged when it is saved.
  const stop = useLive().hear(hears, () => {
    if (saving || !kept) return
    void api<V>(address)
      .then(fetched => {
        if (!saving && fetched.revision >= point.value!.revision) take(fetched)
      })
      .catch(() => {})
  })
  onScopeDispose(() => {
    stop()
    clearTimeout(timer)
    if (state.value === 'changed') void save()
  })
  const unsaved = computed(() => ['changed', 'saving', 'failed'].includes(state.value))
  const mayUndo = computed(() => past.value.length > 0)
  const mayRedo = computed(() => future.value.length > 0)
  void load()
  return {
    point,
    name,
    definition,
    state,
    problem,
    conflict,
    unsaved,
    load,
    save,
    publish,
    plan,
    replace,
    undo,
    redo,
    mayUndo,
    mayRedo,
    steps,
  }
}
