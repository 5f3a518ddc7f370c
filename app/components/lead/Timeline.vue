<script setup lang="ts">
import { TIMELINE_KINDS, wordsOf, type TimelineFilter, type TimelineLine } from '#core/timeline'

/** What happened to a lead: the newest first, narrowed and searched, and older as it is asked for. */
const props = defineProps<{ id: string; newest: TimelineLine[]; mayChange: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const say = useToasts()
const what = ref<TimelineFilter | null>(null)
const search = ref('')
const KINDS = Object.entries(TIMELINE_KINDS).map(([key, { name }]) => ({ key, name }))
/** As many as come with the lead. */
const FIRST = 60
const older = shallowRef<TimelineLine[]>([])
const next = ref<string | null>(null)
const begun = ref(false)
const busy = ref(false)
const narrowed = computed(() => what.value !== null || search.value.trim() !== '')
const words = computed(() => search.value.toLowerCase().split(/\s+/).filter(Boolean))
const fits = (line: TimelineLine) =>
  (what.value === null || (TIMELINE_KINDS[what.value].kinds as readonly string[]).includes(line.kind)) &&
  words.value.every(word => wordsOf(line).includes(word))
const lines = computed(() => {
  const seen = new Set(props.newest.map(l => l.id))
  return [...props.newest.filter(fits), ...older.value.filter(l => !seen.has(l.id) && fits(l))]
})
const mayBeMore = computed(() => (begun.value ? next.value !== null : props.newest.length >= FIRST))
/** Older lines: from the last that stands here, or of what is looked for. */
async function more(): Promise<void> {
  if (busy.value) return
  busy.value = true
  const asked = `${what.value} ${search.value}`
  try {
    const before = begun.value ? next.value : props.newest.at(-1)?.at
    const got = await api<{ lines: TimelineLine[]; next: string | null }>(`/api/team/leads/${props.id}/timeline`, {
      query: {
        ...(before && { before }),
        ...(what.value && { what: what.value }),
        ...(search.value.trim() && { search: search.value.trim() }),
      },
    })
    if (asked !== `${what.value} ${search.value}`) return
    older.value = [...older.value, ...got.lines]
    next.value = got.next
    begun.value = true
  } catch (error) {
    say.failed(error)
  } finally {
    busy.value = false
  }
}
let timer: ReturnType<typeof setTimeout> | undefined
watch([what, search], () => {
  older.value = []
  begun.value = false
  next.value = null
  clearTimeout(timer)
  if (narrowed.value && props.newest.length >= FIRST) timer = setTimeout(() => void more(), 300)
})
onBeforeUnmount(() => clearTimeout(timer))
</script>

<template>
  <div>
    <div v-if="newest.length > 5" class="narrow" role="search" aria-label="What happened, narrowed">
      <Select
        v-model="what"
        :options="KINDS"
        option-label="name"
        option-value="key"
        placeholder="All that happened"
        aria-label="Narrow what happened"
        show-clear
        size="small"
      />
      <InputText
        v-model="search"
        placeholder="Words in it"
        aria-label="Search what happened"
        size="small"
        maxlength="200"
        @keydown.esc.stop="search = ''"
      />
      <span v-if="narrowed" class="faded small" role="status">
        {{ count(lines.length, 'line', 'lines') }}{{ mayBeMore ? ' so far' : '' }}
      </span>
    </div>
    <TimelineList :lines="lines" :lead="mayChange ? id : undefined" @changed="emit('changed')" />
    <p v-if="narrowed && !lines.length && !busy" class="faded">Nothing of that kind happened.</p>
    <Button v-if="mayBeMore" label="Earlier" variant="text" size="small" :loading="busy" @click="more" />
  </div>
</template>

<style scoped>
.narrow { display: flex; flex-wrap: wrap; gap: 6px 10px; align-items: center; margin-bottom: 8px; }
</style>
