<script setup lang="ts">
import { Plus } from 'lucide-vue-next'
import type { Ask } from '#core/follow-up/state'
import { MAY_ASK } from '#core/follow-up/statuses'
import type { Stage } from '#core/vocabulary'

/** Where a follow-up can stand, in which order, and what has to be said with it. What is kept here holds at once, for everybody. */
useHead({ title: 'Statuses – Cavlin' })
const house = useHouse()
const session = useSession()
const say = useToasts()
const mayEdit = computed(() => session.may('edit statuses'))
interface Row {
  key: string | null
  name: string
  stage: Stage
  asks: Ask[]
  /** One a line. */
  reasons: string
}
const STAGES: { value: Stage; text: string }[] = [
  { value: 'first', text: 'where new leads begin' },
  { value: 'open', text: 'being worked on' },
  { value: 'won', text: 'won' },
  { value: 'lost', text: 'lost' },
  { value: 'parked', text: 'put off until later' },
]
const ASKS: Record<Ask, string> = { reason: 'Why', value: 'What it is worth', day: 'The day it was agreed', until: 'When to look again' }
const asksOf = (stage: Stage) => MAY_ASK[stage].map(value => ({ value, text: ASKS[value] }))
const rows = ref<Row[]>([])
const { data: counts } = useLiveQuery(() => api<Record<string, number>>('/api/team/statuses'), { leads: true }, 2000)
const gone = ref<{ key: string; name: string; leads: number; to: string | null }[]>([])
const problem = ref('')
const saving = ref(false)
const taken = () =>
  house.words!.statuses.map(s => ({ key: s.key, name: s.name, stage: s.stage, asks: [...s.asks], reasons: s.reasons.join('\n') }))
watch(
  () => house.words!.statuses,
  () => {
    if (!changed.value) rows.value = taken()
  },
)
const changed = computed(() => rows.value.length > 0 && JSON.stringify(rows.value) !== JSON.stringify(taken()))
rows.value = taken()
useUnsaved(changed)
function move(i: number, by: -1 | 1): void {
  const [row] = rows.value.splice(i, 1)
  rows.value.splice(i + by, 0, row!)
}
function stageOf(row: Row, stage: Stage): void {
  row.stage = stage
  row.asks = row.asks.filter(a => MAY_ASK[stage].includes(a))
}
function add(): void {
  const last = rows.value.findLastIndex(r => r.stage === 'first' || r.stage === 'open')
  rows.value.splice(last + 1, 0, { key: null, name: '', stage: 'open', asks: [], reasons: '' })
  void nextTick(() => document.getElementById(`status-${last + 1}`)?.focus())
}
function take(i: number): void {
  const [row] = rows.value.splice(i, 1)
  if (row?.key) gone.value.push({ key: row.key, name: row.name, leads: counts.value?.[row.key] ?? 0, to: null })
}
function leave(): void {
  rows.value = taken()
  gone.value = []
  problem.value = ''
}
async function save(): Promise<void> {
  problem.value = ''
  const unsaid = gone.value.find(g => g.leads && !g.to)
  if (unsaid) {
    problem.value = `${count(unsaid.leads, 'lead is', 'leads are')} “${unsaid.name}”. Say where they go.`
    return
  }
  saving.value = true
  const statuses = rows.value.map(({ reasons, ...r }) => ({
    ...r,
    reasons: reasons
      .split('\n')
      .map(l => l.trim())
      .filter(Boolean),
  }))
  const moves = Object.fromEntries(gone.value.flatMap(g => (g.to ? [[g.key, g.to]] : [])))
  try {
    await api('/api/team/statuses', { method: 'PUT', body: { statuses, moves } })
    await house.load()
    leave()
    say.done('The statuses are kept.')
  } catch (error) {
    problem.value = error instanceof ApiError && error.flaws.length ? error.flaws.map(f => f.message).join(' ') : (error as Error).message
  } finally {
    saving.value = false
  }
}
</script>

<template>
  <div class="page">
    <StageViews :views="FOLLOW_UP_VIEWS" called="Follow up" />
    <div class="head">
      <h1>Statuses</h1>
      <p class="faded">Where a follow-up can stand, from the first to the last. What a status asks for has to be said before it stands.</p>
    </div>
    <ol class="sheet">
      <li v-for="(row, i) in rows" :key="row.key ?? `new-${i}`">
        <InputText
          :id="`status-${i}`"
          v-model="row.name"
          maxlength="60"
          class="name"
          :disabled="!mayEdit"
          :aria-label="`Name of status ${i + 1}`"
        />
        <Select
          :model-value="row.stage"
          :options="STAGES"
          option-label="text"
          option-value="value"
          class="stage"
          :disabled="!mayEdit"
          :aria-label="`What ${row.name || 'the new status'} means`"
          @update:model-value="stageOf(row, $event)"
        />
        <MultiSelect
          v-if="MAY_ASK[row.stage].length"
          v-model="row.asks"
          :options="asksOf(row.stage)"
          option-label="text"
          option-value="value"
          :show-toggle-all="false"
          placeholder="Asks for nothing"
          class="asks"
          :disabled="!mayEdit"
          :aria-label="`What ${row.name || 'the new status'} asks for`"
        />
        <span v-else class="asks faded small">asks for nothing</span>
        <span class="faded small figures leads">{{ row.key ? count(counts?.[row.key] ?? 0, 'lead', 'leads') : 'new' }}</span>
        <span v-if="mayEdit" class="line">
          <MoveButtons :called="row.name" :first="i === 0" :last="i === rows.length - 1" @move="move(i, $event)" />
          <Button
            label="Give it up"
            variant="text"
            size="small"
            severity="danger"
            :aria-label="`Give ${row.name || 'the new status'} up`"
            @click="take(i)"
          />
        </span>
        <label v-if="row.asks.includes('reason')" class="reasons">
          <span class="small faded">Reasons to choose from, one a line</span>
          <Textarea v-model="row.reasons" rows="3" auto-resize fluid :disabled="!mayEdit" :aria-label="`Reasons for ${row.name}`" />
        </label>
      </li>
    </ol>
    <div v-for="g in gone" :key="g.key" class="gone">
      <template v-if="g.leads">
        <span>{{ count(g.leads, 'lead is', 'leads are') }} “{{ g.name }}”. They become</span>
        <Select
          v-model="g.to"
          :options="rows.filter(r => r.key)"
          option-label="name"
          option-value="key"
          size="small"
          placeholder="Choose"
          :aria-label="`Where the leads of ${g.name} go`"
        />
      </template>
      <span v-else>“{{ g.name }}” goes; nobody has it.</span>
    </div>
    <p v-if="problem" role="alert" class="brick">{{ problem }}</p>
    <p v-if="mayEdit" class="acts">
      <Button variant="outlined" label="Add a status" :disabled="rows.length >= 20" @click="add">
        <template #icon><Plus :size="15" aria-hidden="true" /></template>
      </Button>
      <template v-if="changed">
        <Button label="Keep the statuses" :loading="saving" @click="save" />
        <Button label="Leave them as they were" variant="text" severity="secondary" @click="leave" />
      </template>
    </p>
    <p v-else class="faded">Only admins and managers change them.</p>
  </div>
</template>

<style scoped>
ol { list-style: none; margin: 0; padding: 0; }
li { display: flex; flex-wrap: wrap; gap: 6px 12px; align-items: center; padding: 9px 14px; border-top: 1px solid var(--rule); }
li:first-child { border-top: 0; }
.name { flex: 1 1 160px; min-width: 120px; }
.stage { flex: 0 1 210px; } .asks { flex: 0 1 220px; min-width: 0; }
.leads { flex: 0 0 70px; text-align: right; }
.line { display: flex; align-items: center; }
.reasons { flex-basis: 100%; display: grid; gap: 3px; padding-left: 12px; border-left: 3px solid var(--rule); }
.gone { display: flex; flex-wrap: wrap; gap: 6px 10px; align-items: center; padding: 8px 14px; border-left: 3px solid var(--honey-mark); margin-top: 10px; background: var(--sheet); }
.acts { display: flex; flex-wrap: wrap; gap: 8px; margin-top: 12px; }
</style>
