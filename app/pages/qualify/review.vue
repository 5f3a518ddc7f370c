<script setup lang="ts">
import { likelyInWords } from '#core/identity/likeness'
import { alikeInWords, isWaiting, type ReviewedEntry, type ReviewItem } from '#core/review'

useHead({ title: 'To review – Cavlin' })
const views = useQualifyViews()
const route = useRoute()
const router = useRouter()
const say = useToasts()
const { data, problem, refresh } = useReview()
const items = computed(() => data.value?.items ?? [])
const waiting = computed(() => items.value.filter(isWaiting))
const others = computed(() => items.value.filter(i => !isWaiting(i)))
/** In the order in which they stand on the screen. */
const rows = computed(() => [...waiting.value, ...others.value])

/** The one in hand, which the address names; without, the first. On a narrow screen none is, until one is opened. */
const named = () => (typeof route.query.item === 'string' ? route.query.item : null)
const opened = ref(named())
watch(named, now => {
  opened.value = now
})
const wide = useWide()
const current = computed<ReviewItem | null>(
  () => rows.value.find(i => i.id === opened.value) ?? (wide.value ? (rows.value[at.value] ?? rows.value[0] ?? null) : null),
)
/** Where the one in hand stands, so that the next one takes its place when it is done. */
const at = ref(0)
watch([rows, opened], () => {
  const found = rows.value.findIndex(i => i.id === opened.value)
  if (found >= 0) at.value = found
  else at.value = Math.max(0, Math.min(at.value, rows.value.length - 1))
})
function open(id: string | null): void {
  // At once: keys may come faster than the address changes.
  opened.value = id
  void router.replace({ query: { ...route.query, item: id ?? undefined } })
}
function step(by: number): void {
  const from = current.value ? rows.value.indexOf(current.value) : -1
  const next = rows.value[Math.max(0, Math.min(rows.value.length - 1, from + by))]
  if (next) open(next.id)
  void nextTick(() => document.querySelector('.list [aria-current]')?.scrollIntoView({ block: 'nearest' }))
}
/** What is judged goes from where it stands; the one that follows comes into hand. */
function goOn(): void {
  open(null)
  void refresh()
}

/** Entries that are judged together. */
const picked = ref(new Set<string>())
watch(rows, now => {
  picked.value = new Set([...picked.value].filter(id => now.some(i => i.id === id)))
})
function pick(id: string, on = !picked.value.has(id)): void {
  const next = new Set(picked.value)
  if (on) next.add(id)
  else next.delete(id)
  picked.value = next
}
const entries = computed(() => rows.value.filter((i): i is ReviewedEntry => i.kind === 'entry' && i.letInAt === null))
/** What an act is about: those that are picked, else the one in hand. */
const meant = computed(() => {
  const some = entries.value.filter(e => picked.value.has(e.id))
  return some.length ? some : entries.value.filter(e => e.id === current.value?.id)
})
const called = (some: string[]) =>
  some.length === 1
    ? (items.value.find((i): i is ReviewedEntry => i.kind === 'entry' && i.id === some[0])?.email ?? 'The entry')
    : count(some.length, 'entry', 'entries')

const busy = ref(false)
const asks = ref(false)
async function judge(path: string, ids: string[], words: string, more: object = {}): Promise<void> {
  if (busy.value || !ids.length) return
  busy.value = true
  try {
    const { entries: done } = await api<{ entries: string[] }>(`/api/team/review/${path}`, {
      method: 'POST',
      body: { entries: ids, ...more },
    })
    const name = called(done)
    picked.value = new Set()
    if (!done.length) say.failed(new Error('Somebody else has dealt with it.'))
    else if (path === 'undo') say.done(`${name} ${done.length === 1 ? 'waits' : 'wait'} again.`)
    else say.done(`${name} ${words}`, () => api('/api/team/review/undo', { method: 'POST', body: { entries: done } }))
    goOn()
  } catch (error) {
    say.failed(error)
    await refresh()
  } finally {
    busy.value = false
  }
}
const letIn = (ids: string[]) => judge('let-in', ids, ids.length === 1 ? 'is let in.' : 'are let in.')
const back = (ids: string[]) => judge('undo', ids, '')
const refuse = (why: string) =>
  judge(
    'refuse',
    meant.value.filter(e => e.state === 'held').map(e => e.id),
    'refused.',
    { why },
  )
const mayRefuse = computed(() => meant.value.some(e => e.state === 'held'))
useKeys({
  j: () => step(1),
  k: () => step(-1),
  x: () => {
    if (entries.value.some(e => e.id === current.value?.id)) pick(current.value!.id)
  },
  l: () => void letIn(meant.value.map(e => e.id)),
  r: () => {
    asks.value = mayRefuse.value
  },
  Enter: () => {
    if (current.value) open(current.value.id)
  },
})

const title = (i: ReviewItem): string =>
  i.kind === 'entry'
    ? (i.email ?? 'No address')
    : i.kind === 'pair'
      ? i.leads[0].name === i.leads[1].name
        ? `${i.leads[0].name}, twice?`
        : i.leads.map(l => l.name).join(' and ')
      : i.address
const about = (i: ReviewItem): string => {
  if (i.kind === 'claim') return `Is it the address of ${i.name}?`
  if (i.kind === 'pair') return `${likelyInWords(i.strength)}: ${alikeInWords(i.reasons)}`
  if (i.letInAt) return 'On its way in'
  if (i.judged?.why && i.state === 'held') return 'It could not be let in'
  return i.judged ? `Refused by ${i.judged.by ?? 'one of us'}: ${i.judged.why}` : whySetAside(i.reason)
}
const kind = (i: ReviewItem): string => (i.kind === 'entry' ? i.point : i.kind === 'pair' ? 'Two leads' : 'An address')
const heaps = computed(() =>
  [
    { name: 'To judge', rows: waiting.value, what: '' },
    {
      name: 'Refused, and on their way in',
      rows: others.value,
      what: 'What looked like a machine, or one of us refused: kept for a week.',
    },
  ].filter(h => h.rows.length),
)
const unseen = computed(() => Math.max(0, (data.value?.waiting ?? 0) - waiting.value.length))
</script>

<template>
  <div class="page">
    <StageViews :views="views" called="Qualify" />
    <div class="head">
      <h1>To review</h1>
      <span class="faded" role="status">
        {{ data ? (data.waiting ? `${count(data.waiting, 'waits', 'wait')} for somebody to judge` : '') : '' }}
      </span>
      <span v-if="rows.length" class="faded small keys"><kbd>j</kbd> <kbd>k</kbd> down and up, <kbd>x</kbd> choose several</span>
    </div>
    <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="data && !rows.length" class="sheet empty">
      <h2>Nothing is waiting for a review</h2>
      <p class="faded">Entries that a form holds, what looks like a machine, and people who may be here twice stand here instead of among
        your leads. Nothing of it is lost for a week.</p>
    </div>
    <div v-else-if="data" class="both" :class="{ detail: !wide && current }">
      <div v-if="wide || !current" class="list">
        <section v-for="heap in heaps" :key="heap.name" :aria-label="heap.name">
          <h2>{{ heap.name }} <span v-if="heap.what" class="faded small">{{ heap.what }}</span></h2>
          <ul class="sheet">
            <li v-for="item in heap.rows" :key="item.id" :class="{ at: current?.id === item.id }">
              <Checkbox
                v-if="item.kind === 'entry' && !item.letInAt"
                :model-value="picked.has(item.id)"
                binary
                :input-id="`pick-${item.id}`"
                :aria-label="`Choose ${title(item)}`"
                @update:model-value="pick(item.id, Boolean($event))"
              />
              <span v-else class="no-box" />
              <NuxtLink :to="{ query: { ...route.query, item: item.id } }" replace :aria-current="current?.id === item.id || undefined">
                <span class="top"><b>{{ title(item) }}</b><time :datetime="item.at" class="faded small">{{ ago(item.at) }}</time></span>
                <span class="faded small"><i>{{ kind(item) }}</i> {{ about(item) }}</span>
              </NuxtLink>
            </li>
          </ul>
        </section>
        <p v-if="unseen" class="faded small">{{ unseen }} more wait. They come up as these are judged.</p>
      </div>
      <div v-if="current" class="in-hand sheet">
        <Button v-if="!wide" label="Back to the list" variant="text" size="small" class="back" @click="open(null)" />
        <section v-if="picked.size > 1" class="many" aria-label="Several">
          <h2>{{ count(meant.length, 'entry is', 'entries are') }} chosen</h2>
          <div class="do">
            <Button :disabled="busy" @click="letIn(meant.map(e => e.id))"><span>Let them in</span> <kbd>l</kbd></Button>
            <Button v-if="mayRefuse" variant="outlined" :disabled="busy" @click="asks = true">
              <span>Refuse them …</span> <kbd>r</kbd>
            </Button>
            <Button label="Choose none" variant="text" @click="picked = new Set()" />
          </div>
        </section>
        <ReviewEntryDetail
          v-else-if="current.kind === 'entry'"
          :entry="current"
          :busy="busy"
          @let-in="letIn([current.id])"
          @refuse="asks = true"
          @back="back([current.id])"
        />
        <template v-else-if="current.kind === 'pair'">
          <h2>Are these two one person?</h2>
          <ReviewComparePair :a="current.leads[0].id" :b="current.leads[1].id" @judged="goOn" />
        </template>
        <ReviewClaimDetail v-else :claim="current" @judged="goOn" />
      </div>
    </div>
    <ReviewRefuseDialog v-model:visible="asks" :many="meant.filter(e => e.state === 'held').length" @refuse="refuse" />
  </div>
</template>

<style scoped>
.both { display: grid; grid-template-columns: minmax(300px, 420px) minmax(0, 1fr); gap: 24px; align-items: start; }
.list section + section { margin-top: 18px; }
.list ul { list-style: none; margin: 6px 0 0; padding: 0; }
.list h2 .small { font-family: var(--text); font-weight: 400; }
li { display: flex; gap: 10px; align-items: flex-start; padding: 0 12px; border-bottom: 1px solid var(--rule); border-left: 3px solid transparent; }
li:last-child { border-bottom: 0; }
li.at { background: var(--wash); border-left-color: var(--spruce); }
li .p-checkbox { margin-top: 11px; flex: none; }
.no-box { width: 20px; flex: none; }
li a { flex: 1; min-width: 0; padding: 9px 0; display: grid; color: inherit; text-decoration: none; overflow-wrap: anywhere; }
.top { display: flex; gap: 10px; justify-content: space-between; align-items: baseline; }
.top time { flex: none; }
i { font-style: normal; color: var(--ink); }
i::after { content: ' · '; }
.in-hand { padding: 16px 18px; display: grid; gap: 12px; grid-template-columns: minmax(0, 1fr); position: sticky; top: 76px; max-height: calc(100vh - 92px); overflow: auto; }
.back { justify-self: start; }
.do { display: flex; flex-wrap: wrap; gap: 8px; margin-top: 10px; }
.keys { margin-left: auto; }
@media (max-width: 900px) { .both { grid-template-columns: minmax(0, 1fr); } .in-hand { position: static; max-height: none; } .keys { display: none; } }
</style>
