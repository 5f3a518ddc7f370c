<script setup lang="ts">
import type { ColumnKey } from '#core/follow-up/views'

/** Views of the table that were kept: one's own, and the team's. */
const props = defineProps<{
  /** The filters and the order as they stand. */ query: Record<string, string | string[]>
  columns: ColumnKey[]
}>()
const emit = defineEmits<{ open: [view: { query: Record<string, string | string[]>; columns: ColumnKey[] }] }>()
interface View {
  id: string
  name: string
  shared: boolean
  query: Record<string, string | string[]>
  columns: ColumnKey[]
  by: string | null
}
const session = useSession()
const say = useToasts()
const { data, refresh } = useLiveQuery(() => api<{ views: View[] }>('/api/team/views'), { lists: true }, 500)
const views = computed(() => data.value?.views ?? [])
const sorted = (value: unknown) => JSON.stringify(Object.entries(value as object).sort(([a], [b]) => a.localeCompare(b)))
const chosen = computed(
  () =>
    views.value.find(v => sorted(v.query) === sorted(props.query) && JSON.stringify(v.columns) === JSON.stringify(props.columns)) ?? null,
)
const mayChange = (view: View) => !view.shared || view.by === session.me!.id || session.may('edit plan')
const groups = computed(() =>
  [
    { name: 'Mine', views: views.value.filter(v => !v.shared) },
    { name: 'The team’s', views: views.value.filter(v => v.shared) },
  ].filter(g => g.views.length),
)
const naming = ref(false)
const name = ref('')
const shared = ref(false)
const flaw = ref('')
function begin(): void {
  name.value = ''
  flaw.value = ''
  naming.value = true
}
async function add(view: Pick<View, 'name' | 'shared' | 'query' | 'columns'>): Promise<void> {
  await api('/api/team/views', { method: 'POST', body: { name: view.name, shared: view.shared, query: view.query, columns: view.columns } })
  await refresh()
}
async function keep(): Promise<void> {
  try {
    await add({ name: name.value, shared: shared.value, query: props.query, columns: props.columns })
    naming.value = false
    say.done(`“${name.value}” is kept.`)
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
async function remove(view: View): Promise<void> {
  try {
    await api(`/api/team/views/${view.id}`, { method: 'DELETE' })
    await refresh()
    say.done(`“${view.name}” is removed.`, () => add(view))
  } catch (error) {
    say.failed(error)
  }
}
</script>

<template>
  <span class="views">
    <Select
      v-if="views.length"
      :model-value="chosen"
      :options="groups"
      option-group-label="name"
      option-group-children="views"
      option-label="name"
      data-key="id"
      placeholder="Kept views"
      aria-label="Kept views"
      size="small"
      @update:model-value="$event && emit('open', $event)"
    />
    <Button v-if="!chosen" label="Keep this view …" variant="text" size="small" @click="begin" />
    <Button
      v-else-if="mayChange(chosen)"
      label="Remove the view"
      variant="text"
      size="small"
      severity="secondary"
      @click="remove(chosen)"
    />
    <Dialog v-model:visible="naming" modal header="Keep this view" :style="{ width: 'min(26rem, 94vw)' }">
      <form class="keep" @submit.prevent="keep">
        <p class="faded small">The filters, the order and the columns as they are now.</p>
        <label for="view-name">Name</label>
        <InputText id="view-name" v-model="name" maxlength="60" autofocus fluid />
        <label class="tick"><Checkbox v-model="shared" binary input-id="view-shared" /> For the whole team</label>
        <p v-if="flaw" role="alert" class="brick small">{{ flaw }}</p>
        <p><Button type="submit" label="Keep it" :disabled="!name.trim()" /></p>
      </form>
    </Dialog>
  </span>
</template>

<style scoped>
.views { display: inline-flex; gap: 6px; align-items: center; } .keep { display: grid; gap: 8px; } .tick { display: flex; gap: 8px; align-items: center; }
</style>
