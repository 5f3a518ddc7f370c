<script setup lang="ts">
import { answerText, type Question } from '#core/points/definition'
import type { RespondentsView } from '#core/team'
import type { Group } from './GroupPick.vue'

/** Who answered, the latest first, each leading to their lead. */
const props = defineProps<{
  id: string
  group: Group
  questions: Question[]
  /** Only who answered so. */ answer: { question: string; value: string } | null
  live: number
}>()
type Row = RespondentsView['respondents'][number]
const rows = ref<Row[]>([])
const more = ref(false)
const busy = ref(true)
const problem = ref('')
const MOST = 90
const house = useHouse()
const isSensitive = (q: Question) => house.words!.properties.some(p => p.key === q.property && p.sensitivity === 'sensitive')
const asked = computed(() => props.questions.filter(q => q.property !== 'email' && q.kind !== 'consent' && !isSensitive(q)))
let turn = 0

async function fetchRows(behind: Row | null): Promise<void> {
  const mine = ++turn
  busy.value = true
  try {
    const body = { ...props.group, ...(props.answer && { answer: props.answer }), ...(behind && { at: behind.at, id: behind.id }) }
    const came = await api<RespondentsView>(`/api/team/points/${props.id}/respondents`, { method: 'POST', body })
    if (mine !== turn) return
    rows.value = behind ? [...rows.value, ...came.respondents] : came.respondents
    more.value = came.more
    problem.value = ''
  } catch (error) {
    if (mine === turn) problem.value = (error as Error).message
  } finally {
    if (mine === turn) busy.value = false
  }
}
watch(
  () => [props.group, props.answer],
  () => void fetchRows(null),
  { immediate: true, deep: true },
)
// What comes in while somebody has read further down waits for them.
watch(
  () => props.live,
  () => {
    if (rows.value.length <= 50) void fetchRows(null)
  },
)
function said(q: Question, row: Row): string {
  const answer = row.answers[q.key]
  const text = answer === undefined ? '' : answerText(q, answer)
  return text.length > MOST ? `${text.slice(0, MOST)} …` : text
}
const when = (iso: string) => new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
</script>

<template>
  <p v-if="problem" class="brick" role="alert">{{ problem }}</p>
  <p v-else-if="!rows.length" class="faded" role="status">{{ busy ? 'Fetching …' : 'Nobody in this time.' }}</p>
  <div v-else class="scroll" tabindex="0" role="region" aria-label="Respondents, a table">
    <table class="figures">
      <thead>
        <tr>
          <th>Sent</th>
          <th>Who</th>
          <th v-for="q in asked" :key="q.key">{{ q.label }}</th>
          <th>Page</th>
          <th class="n">Took</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.id">
          <td class="when">{{ when(r.at) }}</td>
          <td>
            <NuxtLink :to="`/follow-up/leads/${r.lead}`">{{ r.name }}</NuxtLink>
            <span v-if="r.company" class="faded small"><br />{{ r.company }}</span>
          </td>
          <td v-for="q in asked" :key="q.key">{{ said(q, r) }}</td>
          <td class="small faded">{{ r.page?.replace(/^https?:\/\//, '') ?? '' }}</td>
          <td class="n">{{ r.tookMs === null ? '' : `${Math.round(r.tookMs / 1000)} s` }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <Button v-if="more && !problem" label="Show more" size="small" variant="outlined" :loading="busy" @click="fetchRows(rows.at(-1)!)" />
</template>

<style scoped>
table {
  min-width: 820px;
}
td,
th {
  padding: 6px 16px 6px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
  overflow-wrap: anywhere;
  max-width: 260px;
}
.when {
  white-space: nowrap;
}
</style>
