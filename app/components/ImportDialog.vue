<script setup lang="ts">
import type { TableColumn } from '#core/lists/people'
import type { PropertyValue } from '#core/properties/kinds'

/** Brings the people of a table onto a list: read, looked at, and only then done. */
const props = defineProps<{ list: { id: string; name: string } }>()
const emit = defineEmits<{ done: [] }>()
const house = useHouse()
const say = useToasts()
interface Told { columns: TableColumn[]; people: number; fresh: number; known: number; flaws: { line: number; message: string }[]; wrong: number; some: { email: string; values: Record<string, PropertyValue> }[] }

const open = ref(true)
const csv = ref('')
const file = ref('')
const replace = ref(false)
const told = shallowRef<Told | null>(null)
const flaw = ref('')
const busy = ref(false)
const MOST = 4 * 1024 * 1024 - 100_000
const targets = computed(() => [{ key: '', name: 'Nothing: pass it over' }, ...house.words!.properties.filter(p => !p.retired && p.kind !== 'file').map(p => ({ key: p.key, name: p.label }))])

async function send(dryRun: boolean, columns?: (string | null)[]): Promise<Told | null> {
  busy.value = true
  flaw.value = ''
  try {
    return await api<Told>(`/api/team/lists/${props.list.id}/people`, { method: 'POST', body: { csv: csv.value, replace: replace.value, dryRun, ...(columns && { columns }) } })
  } catch (error) {
    flaw.value = (error as Error).message
    return null
  } finally {
    busy.value = false
  }
}
async function read(event: Event): Promise<void> {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  file.value = chosen.name
  told.value = null
  if (chosen.size > MOST) return void (flaw.value = 'This file is over 3.9 MB. Cut it in two, and bring in one after the other.')
  try {
    csv.value = new TextDecoder('utf-8', { fatal: true }).decode(await chosen.arrayBuffer())
  } catch {
    return void (flaw.value = 'This file is not text in UTF-8. Save it as “CSV UTF-8”, and try again.')
  }
  told.value = await send(true)
}
async function fill(i: number, property: string | null): Promise<void> {
  const columns = told.value!.columns.map((c, n) => n === i ? property : c.property === property ? null : c.property)
  told.value = await send(true, columns) ?? told.value
}
async function bring(): Promise<void> {
  const came = await send(false, told.value!.columns.map(c => c.property))
  if (!came) return
  await house.load()
  say.done(`${count(came.fresh + came.known, 'person is', 'people are')} on ${props.list.name} now, ${came.fresh} of them new.`)
  close()
}
function close(): void {
  open.value = false
  emit('done')
}
</script>

<template>
  <Dialog v-model:visible="open" modal :header="`Bring people onto ${list.name}`" :style="{ width: '46rem', maxWidth: '96vw' }" @hide="emit('done')">
    <p>A CSV table with a first line of names: one column of e-mail addresses, and what else you know. Who is known already is found by the address. Nobody is mailed, and nobody gets an owner by it.</p>
    <label class="file"><input type="file" class="unseen" accept=".csv,text/csv,text/plain,.tsv,.txt" @change="read"><span class="pick">Choose the table</span><span class="faded">{{ file || 'a .csv file' }}</span></label>
    <p v-if="busy && !told" class="faded" role="status">Reading {{ file }} …</p>
    <p v-if="flaw" class="brick" role="alert">{{ flaw }}</p>
    <template v-if="told">
      <h3>What the columns fill</h3>
      <ul class="columns">
        <li v-for="(c, i) in told.columns" :key="i"><span class="header">{{ c.header || `Column ${i + 1}` }}</span><Select :model-value="c.property ?? ''" :options="targets" option-label="name" option-value="key" size="small" :aria-label="`What ${c.header || `column ${i + 1}`} fills`" @update:model-value="fill(i, $event || null)" /></li>
      </ul>
      <p role="status"><b>{{ count(told.people, 'person', 'people') }}</b>: {{ told.fresh }} new, {{ told.known }} known already.<template v-if="told.some.length"> The first: {{ told.some.map(s => s.email).join(', ') }}</template></p>
      <div v-if="told.wrong" class="flaws"><p class="brick">{{ count(told.wrong, 'thing', 'things') }} cannot be taken in as they stand:</p><ul><li v-for="f in told.flaws" :key="`${f.line}${f.message}`" class="small">Line {{ f.line }}: {{ f.message }}</li></ul></div>
      <label class="tick"><Checkbox v-model="replace" binary input-id="import-replace" /> What we know already gives way to what stands in the table; otherwise only gaps are filled</label>
    </template>
    <template #footer><Button label="Leave it" variant="text" severity="secondary" @click="close" /><Button :label="told ? `Bring in ${count(told.people, 'person', 'people')}` : 'Bring them in'" :disabled="!told?.people" :loading="busy" @click="bring" /></template>
  </Dialog>
</template>

<style scoped>
.file { display: inline-flex; gap: 10px; align-items: center; margin: 12px 0; cursor: pointer; position: relative; } .pick { padding: 6px 12px; border: 1px solid var(--spruce); border-radius: 4px; color: var(--spruce); font-weight: 560; } .file:focus-within .pick { outline: 2px solid var(--spruce); outline-offset: 2px; }
.columns { list-style: none; padding: 0; margin: 6px 0 12px; display: grid; grid-template-columns: repeat(auto-fit, minmax(270px, 1fr)); gap: 6px 18px; }
.columns li { display: flex; gap: 8px; align-items: center; justify-content: space-between; min-width: 0; }
.header { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; } .columns .p-select { width: 160px; flex: none; }
.flaws { margin: 8px 0; max-height: 9rem; overflow: auto; }
.tick { display: flex; gap: 8px; align-items: center; margin-top: 10px; }
</style>
