<script setup lang="ts">
import type { EndsView } from '#core/team'
import type { Group } from './GroupPick.vue'

/** Which answers go with becoming qualified, or won: how many times as often as with all other answers to the same question, with its doubt. */
const props = defineProps<{ id: string; group: Group; live: number }>()
const emit = defineEmits<{ pick: [question: string, value: string, text: string] }>()
const ENDS = [
  { key: 'qualified' as const, name: 'becoming qualified' },
  { key: 'won' as const, name: 'being won' },
]
const end = ref<'qualified' | 'won'>('qualified')
const data = shallowRef<EndsView | null>(null)
const problem = ref('')
let turn = 0
/** Counted person by person: not anew with each thing that happens. */
const OFTEN_MS = 30_000
let fetchedAt = 0
async function fetchEnds(): Promise<void> {
  const mine = ++turn
  fetchedAt = Date.now()
  try {
    const came = await api<EndsView>(`/api/team/points/${props.id}/ends`, { method: 'POST', body: props.group })
    if (mine === turn) {
      data.value = came
      problem.value = ''
    }
  } catch (error) {
    if (mine === turn) problem.value = (error as Error).message
  }
}
watch(
  () => props.group,
  () => void fetchEnds(),
  { immediate: true, deep: true },
)
watch(
  () => props.live,
  () => {
    if (Date.now() - fetchedAt > OFTEN_MS) void fetchEnds()
  },
)
const ratioOf = (row: EndsView['rows'][number]) => (end.value === 'qualified' ? row.toQualified : row.toWon)
const rows = computed(() => {
  const surely = (row: EndsView['rows'][number]) => {
    const r = ratioOf(row)
    return r ? Math.max(r.low, 1 / r.high) : -1
  }
  return [...(data.value?.rows ?? [])].filter(r => r.people > 0).sort((a, b) => surely(b) - surely(a) || b.people - a.people)
})
const told = computed(() => rows.value.filter(ratioOf))
const fewer = computed(() => rows.value.length - told.value.length)
/** From a fifth to five times, each doubling as wide. */
const at = (x: number) => 50 + 50 * Math.max(-1, Math.min(1, Math.log(x) / Math.log(5)))
const times = (x: number) => (x >= 10 ? Math.round(x).toString() : x.toFixed(1))
function says({ ratio, low, high }: { ratio: number; low: number; high: number }): string {
  const range = `${times(low)} to ${times(high)}`
  if (low <= 1 && high >= 1) return `as often as others, as far as can be told (${range} times)`
  return `${times(ratio)} times as often as others (${range})`
}
</script>

<template>
  <div>
    <div class="head">
      <label id="ends-of">What goes with</label>
      <Select v-model="end" :options="ENDS" option-label="name" option-value="key" size="small" aria-labelledby="ends-of" />
    </div>
    <p v-if="problem" role="alert" class="brick">{{ problem }}</p>
    <p v-else-if="data" class="small faded">
      {{ data[end].toLocaleString('en') }} of {{ data.people.toLocaleString('en') }} people who answered
      {{ end === 'qualified' ? 'have been qualified' : 'were won' }}. It is counted, not proven: what goes together need not come of each
      other.
    </p>
    <table v-if="told.length" class="figures">
      <thead>
        <tr>
          <th>Answer</th>
          <th class="n">People</th>
          <th class="n">{{ end === 'qualified' ? 'Qualified' : 'Won' }}</th>
          <th>Against other answers</th>
          <th><span class="unseen">As a bar</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in told" :key="`${row.question} ${row.value}`">
          <td>
            <button
              type="button"
              class="text"
              :aria-label="`Show the people behind ${row.text}`"
              @click="emit('pick', row.question, row.value, `${row.label}: ${row.text}`)"
            >
              {{ row.text }}
            </button><br /><span class="small faded">{{ row.label }}</span>
          </td>
          <td class="n">{{ row.people }}</td>
          <td class="n">
            {{ row[end] }} <span class="small faded">{{ percent(row[end] / row.people) }}</span>
          </td>
          <td>{{ says(ratioOf(row)!) }}</td>
          <td class="bar">
            <span class="range" aria-hidden="true">
              <i class="line" :style="{ left: `${at(ratioOf(row)!.low)}%`, width: `${at(ratioOf(row)!.high) - at(ratioOf(row)!.low)}%` }" />
              <i class="dot" :style="{ left: `${at(ratioOf(row)!.ratio)}%` }" />
            </span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="data && fewer" class="small faded">
      {{
        told.length
          ? `Of ${count(fewer, 'other answer', 'other answers')} too few to tell.`
          : 'Too few to tell yet: an answer is compared once five of those who gave it have come so far, and five of the others.'
      }}
    </p>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  gap: 10px;
  align-items: center;
}
table {
  width: 100%;
  max-width: 1100px;
}
td,
th {
  padding: 6px 14px 6px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
.text {
  padding: 0;
  border: 0;
  background: none;
  color: var(--spruce);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.text:hover {
  text-decoration: underline;
}
.bar {
  width: 24%;
}
.range {
  position: relative;
  display: block;
  height: 20px;
}
.range::before {
  content: '';
  position: absolute;
  left: 50%;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--rule);
}
.line {
  position: absolute;
  top: 9px;
  height: 3px;
  background: var(--slate);
}
.dot {
  position: absolute;
  top: 6px;
  width: 9px;
  height: 9px;
  margin-left: -4px;
  border-radius: 50%;
  background: var(--spruce);
}
</style>
