<script setup lang="ts">
import { Plus } from 'lucide-vue-next'

/** Names, order, from where on somebody counts as qualified, and how soon they are answered. What is kept here holds at once. */
const visible = defineModel<boolean>('visible', { required: true })
const house = useHouse()
const { done } = useToasts()
interface Row {
  key: string | null
  name: string
  amount: number
  unit: Unit
}
type Unit = 'minutes' | 'hours' | 'days'
const UNITS: { value: Unit; text: string }[] = [
  { value: 'minutes', text: 'minutes' },
  { value: 'hours', text: 'hours' },
  { value: 'days', text: 'working days' },
]
const minutesOf: Record<Unit, () => number> = { minutes: () => 1, hours: () => 60, days: () => 60 * house.dayHours }
/** The highest first, as they stand in the table. */
const rows = ref<Row[]>([])
/** The lowest that counts as qualified, by its place among the rows; all above it do. */
const from = ref(-1)
const problem = ref('')
const saving = ref(false)
function unitFor(minutes: number): Pick<Row, 'amount' | 'unit'> {
  for (const unit of ['days', 'hours'] as const) if (minutes % minutesOf[unit]() === 0) return { unit, amount: minutes / minutesOf[unit]() }
  return { unit: 'minutes', amount: minutes }
}
watch(visible, now => {
  if (!now) return
  problem.value = ''
  joining.value = null
  const labels = [...house.words!.labels].reverse()
  rows.value = labels.map(l => ({ key: l.key, name: l.name, ...unitFor(l.responseTarget) }))
  from.value = labels.findLastIndex(l => l.qualified)
})
function move(i: number, by: -1 | 1): void {
  const [row] = rows.value.splice(i, 1)
  rows.value.splice(i + by, 0, row!)
}
function add(): void {
  rows.value.push({ key: null, name: '', amount: 1, unit: 'days' })
}
function take(i: number): void {
  rows.value.splice(i, 1)
  if (i <= from.value) from.value--
}
/** The label that is to be joined with another, and with which. */
const joining = ref<{ key: string; into: string | null } | null>(null)
const others = computed(() => house.words!.labels.filter(l => l.key !== joining.value?.key))
async function join(): Promise<void> {
  if (!joining.value?.into) return
  const { key, into } = joining.value
  const [gone, kept] = [house.labelName(key), house.labelName(into)]
  saving.value = true
  problem.value = ''
  try {
    await api(`/api/team/labels/${key}/join`, { method: 'POST', body: { into } })
    await house.load()
    joining.value = null
    visible.value = false
    done(`${gone} is ${kept} from now on. Leads follow in a moment.`)
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    saving.value = false
  }
}
async function save(): Promise<void> {
  saving.value = true
  problem.value = ''
  const labels = rows.value
    .map((r, i) => ({ key: r.key, name: r.name, qualified: i <= from.value, responseTarget: r.amount * minutesOf[r.unit]() }))
    .reverse()
  try {
    await api('/api/team/labels', { method: 'PUT', body: { labels } })
    await house.load()
    visible.value = false
    done('The labels are kept.')
  } catch (error) {
    problem.value = error instanceof ApiError && error.flaws.length ? error.flaws.map(f => f.message).join(' ') : (error as Error).message
  } finally {
    saving.value = false
  }
}
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Labels" :style="{ width: 'min(46rem, 96vw)' }">
    <p class="faded">The highest first. What you keep here holds at once, for everybody; a new label needs an area on the scorecard.</p>
    <p v-if="problem" role="alert" class="brick">{{ problem }}</p>
    <ol>
      <li v-for="(row, i) in rows" :key="row.key ?? i">
        <InputText v-model="row.name" size="small" maxlength="60" class="name" :aria-label="`Name of label ${i + 1}`" />
        <label class="tick"
          ><RadioButton v-model="from" :value="i" :input-id="`from-${i}`" name="qualified-from" /> <span>qualified from here</span></label
        >
        <span class="line">
          <span>answer within</span>
          <ScoringPointsInput v-model="row.amount" :least="1" :most="999" :called="`Answer within, for ${row.name || 'the new label'}`" />
          <Select
            v-model="row.unit"
            :options="UNITS"
            option-label="text"
            option-value="value"
            size="small"
            :aria-label="`Unit, for ${row.name || 'the new label'}`"
          />
        </span>
        <span class="line">
          <MoveButtons :called="row.name" :first="i === 0" :last="i === rows.length - 1" @move="move(i, $event)" />
          <Button
            v-if="row.key && rows.length > 1"
            label="Join with …"
            variant="text"
            size="small"
            severity="secondary"
            :aria-label="`Join ${row.name} with another label`"
            @click="joining = { key: row.key, into: null }"
          />
          <Button
            label="Take it out"
            variant="text"
            size="small"
            severity="danger"
            :disabled="rows.length === 1"
            :aria-label="`Take ${row.name || 'the new label'} out`"
            @click="take(i)"
          />
        </span>
        <form v-if="joining && joining.key === row.key" class="join" @submit.prevent="join">
          <Select
            v-model="joining.into"
            :options="others"
            option-label="name"
            option-value="key"
            size="small"
            placeholder="With which one?"
            :aria-label="`Join ${row.name} with`"
          />
          <p class="small">Whoever carries “{{ house.labelName(row.key) }}” carries the other one from then on, its area becomes the other
            one’s, and what happened keeps its name. This cannot be taken back.</p>
          <span class="line">
            <Button type="submit" label="Join them" size="small" :disabled="!joining.into" :loading="saving" />
            <Button label="Leave it" size="small" variant="text" severity="secondary" @click="joining = null" />
          </span>
        </form>
      </li>
    </ol>
    <Button variant="text" size="small" label="Add a label below" :disabled="rows.length >= 12" @click="add">
      <template #icon><Plus :size="15" aria-hidden="true" /></template>
    </Button>
    <template #footer>
      <Button label="Leave them as they were" variant="text" severity="secondary" @click="visible = false" />
      <Button label="Keep the labels" :loading="saving" @click="save" />
    </template>
  </Dialog>
</template>

<style scoped>
.join {
  flex-basis: 100%;
  display: grid;
  gap: 6px;
  justify-items: start;
  padding: 6px 0 4px 12px;
  border-left: 3px solid var(--honey-mark);
}
ol {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  padding: 7px 0;
  border-bottom: 1px solid var(--rule);
}
.name {
  flex: 1 1 150px;
  min-width: 120px;
}
.tick,
.line {
  display: flex;
  gap: 6px;
  align-items: center;
  white-space: nowrap;
  margin: 0;
}
</style>
