<script setup lang="ts">
import { IMPORT_DAYS, ROW_COUNTS, type Repeat, type RowCounts, type TableColumn } from '#core/lists/people'
import { ENCODING_NAMES, type Encoding } from '#core/lists/encodings'
import { may } from '#core/roles'

/** Brings the people of a table onto a list: read, looked at, and only then done; it can be taken back as a whole. */
const props = defineProps<{ list: { id: string; name: string } }>()
const emit = defineEmits<{ done: [] }>()
const house = useHouse()
const say = useToasts()
interface Told {
  columns: TableColumn[]
  people: number
  fresh: number
  known: number
  flaws: { line: number; message: string }[]
  wrong: number
  repeats: Repeat[]
  repeated: number
  examples: string[]
}
interface Brought {
  id: string
  madeAt: string
  by: string | null
  phase: string
  position: number
  total: number
  fresh: number
  known: number
  gone: number
  stayed: number
  undoable: boolean
}

const open = ref(true)
const bytes = shallowRef<Uint8Array | null>(null)
const encoding = ref<Encoding>('utf-8')
const csv = ref('')
const file = ref('')
const replace = ref(false)
const rows = ref<RowCounts>('together')
/** Who answers for those of whom nobody does: said on purpose, so nothing is chosen at first. */
const owners = ref<'nobody' | 'plan' | 'member' | ''>('')
const member = ref('')
const told = shallowRef<Told | null>(null)
const flaw = ref('')
const busy = ref(false)
const bringing = ref(false)
const MOST = 4 * 1024 * 1024 - 100_000
const ROW_WORDS: Record<RowCounts, string> = {
  together: 'All rows together; where they differ, the later one',
  last: 'Only the last row',
  first: 'Only the first row',
}
const rowChoices = ROW_COUNTS.map(key => ({ key, name: ROW_WORDS[key] }))
const NOTHING = '-'
const targets = computed(() => [
  { key: NOTHING, name: 'Nothing: pass it over' },
  ...house.words!.properties.filter(p => !p.retired && p.kind !== 'file').map(p => ({ key: p.key, name: p.label })),
])
const workers = computed(() => house.words!.members.filter(m => may(m.role, 'work leads')))
const given = computed(() => (owners.value === 'member' ? member.value : owners.value))
const path = computed(() => `/api/team/lists/${props.list.id}`)

const { data: brought, refresh } = useLiveQuery(() => api<Brought[]>(`${path.value}/imports`), { lists: true })
/** The one that comes in now, or goes. */
const coming = computed(() => brought.value?.find(b => b.phase === 'people' || b.phase === 'list' || b.phase === 'undo'))
let timer: ReturnType<typeof setInterval> | undefined
watch([bringing, coming], ([mine, some]) => {
  clearInterval(timer)
  if (mine || some) timer = setInterval(() => void refresh(), 1000)
})
onScopeDispose(() => clearInterval(timer))

async function send<T>(dryRun: boolean, columns?: (string | null)[]): Promise<T | null> {
  busy.value = true
  flaw.value = ''
  try {
    const body = {
      csv: csv.value,
      replace: replace.value,
      rows: rows.value,
      owners: given.value || 'nobody',
      dryRun,
      ...(columns && { columns }),
    }
    return await api<T>(`${path.value}/people`, { method: 'POST', body })
  } catch (error) {
    flaw.value = (error as Error).message
    return null
  } finally {
    busy.value = false
  }
}
const columnsNow = () => told.value?.columns.map(c => c.property)
async function choose(event: Event): Promise<void> {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  file.value = chosen.name
  told.value = null
  bytes.value = null
  if (chosen.size > MOST) return void (flaw.value = 'This file is over 3.9 MB. Cut it in two, and bring in one after the other.')
  bytes.value = new Uint8Array(await chosen.arrayBuffer())
  // The same file may be chosen again, once it is mended.
  ;(event.target as HTMLInputElement).value = ''
  await read()
}
async function read(as?: Encoding): Promise<void> {
  flaw.value = ''
  try {
    const { readText } = await import('#core/lists/encoding')
    const { text, encoding: found } = readText(bytes.value!, as)
    csv.value = text
    encoding.value = found
  } catch (error) {
    bytes.value = null
    return void (flaw.value = (error as Error).message)
  }
  told.value = await send<Told>(true)
}
async function fill(i: number, property: string | null): Promise<void> {
  const columns = told.value!.columns.map((c, n) => (n === i ? property : c.property === property ? null : c.property))
  told.value = (await send<Told>(true, columns)) ?? told.value
}
watch(rows, async () => {
  told.value = (await send<Told>(true, columnsNow())) ?? told.value
})

async function bring(): Promise<void> {
  bringing.value = true
  const came = await send<Told & { id: string }>(false, columnsNow())
  bringing.value = false
  if (!came) return
  await house.load()
  say.done(`${count(came.fresh + came.known, 'person is', 'people are')} on ${props.list.name} now, ${came.fresh} of them new.`, () =>
    undo(came.id),
  )
  close()
}
async function undo(id: string): Promise<void> {
  bringing.value = true
  try {
    const { gone, stayed } = await api<{ gone: number; stayed: number }>(`${path.value}/imports/${id}/undo`, { method: 'POST', body: {} })
    await Promise.all([refresh(), house.load()])
    const kept = stayed ? ` ${count(stayed, 'person', 'people')} stay, because something has happened to them since.` : ''
    say.done(`The table is taken back. ${count(gone, 'person', 'people')} who had come by it ${gone === 1 ? 'is' : 'are'} gone.${kept}`)
  } finally {
    bringing.value = false
  }
}
const undoHere = (id: string) => undo(id).catch((error: unknown) => say.failed(error))
function close(): void {
  open.value = false
  emit('done')
}

const at = (iso: string) => new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' })
const why = computed(() =>
  !told.value?.people ? '' : !owners.value ? 'Say first who answers for them.' : !given.value ? 'Choose who gets them.' : '',
)
function state(b: Brought): string {
  if (b.phase === 'undone') return `taken back: ${b.gone} gone${b.stayed ? `, ${b.stayed} stayed` : ''}`
  if (b.phase === 'undo') return 'being taken back …'
  if (b.phase !== 'done')
    return `${b.phase === 'list' ? 'nearly there' : `${b.position.toLocaleString('en')} of ${b.total.toLocaleString('en')}`} …`
  return `${b.fresh.toLocaleString('en')} new, ${b.known.toLocaleString('en')} known`
}
</script>

<template>
  <Dialog
    v-model:visible="open"
    modal
    :header="`Bring people onto ${list.name}`"
    :style="{ width: '48rem', maxWidth: '96vw' }"
    @hide="emit('done')"
  >
    <p>
      A CSV table with a first line of names: one column of e-mail addresses, and what else you know. Who is known already is found by the
      address. The people in it are not written to.
    </p>
    <label class="file">
      <input type="file" class="unseen" accept=".csv,text/csv,text/plain,.tsv,.txt" @change="choose" />
      <span class="pick">Choose the table</span>
      <span class="faded">{{ file || 'a .csv file' }}</span>
    </label>
    <p v-if="busy && !told" class="faded" role="status">Reading {{ file }} …</p>
    <p v-if="flaw" class="brick" role="alert">{{ flaw }}</p>
    <template v-if="told">
      <div class="row">
        <h3 id="import-columns">What the columns fill</h3>
        <span id="import-encoding" class="faded small">Letters read as</span>
        <Select
          v-model="encoding"
          aria-labelledby="import-encoding"
          :options="ENCODING_NAMES"
          option-label="name"
          option-value="key"
          size="small"
          @update:model-value="read($event)"
        />
      </div>
      <ul class="columns">
        <li v-for="(c, i) in told.columns" :key="i">
          <span class="header">{{ c.header || `Column ${i + 1}` }}<br /><span class="faded small">{{ told.examples[i] || 'empty' }}</span></span>
          <Select
            :model-value="c.property"
            :options="targets"
            placeholder="Nothing: pass it over"
            option-label="name"
            option-value="key"
            size="small"
            :aria-label="`What ${c.header || `column ${i + 1}`} fills`"
            @update:model-value="fill(i, $event === NOTHING ? null : $event)"
          />
        </li>
      </ul>
      <p role="status"><b>{{ count(told.people, 'person', 'people') }}</b>: {{ told.fresh.toLocaleString('en') }} new,
        {{ told.known.toLocaleString('en') }} known already.
      </p>
      <div v-if="told.repeated" class="again">
        <p id="import-again">
          <b>{{ count(told.repeated, 'address stands', 'addresses stand') }} in more than one row</b>, and each is one person:
        </p>
        <ul class="small">
          <li v-for="r in told.repeats" :key="r.email">{{ r.email }}, lines {{ r.lines.join(', ') }}</li>
          <li v-if="told.repeated > told.repeats.length">and {{ told.repeated - told.repeats.length }} more</li>
        </ul>
        <Select
          v-model="rows"
          :options="rowChoices"
          option-label="name"
          option-value="key"
          size="small"
          aria-label="Which row counts"
          aria-describedby="import-again"
        />
      </div>
      <div v-if="told.wrong" class="flaws">
        <p class="brick">
          {{ told.wrong === 1 ? 'One thing cannot be taken in as it stands' : `${told.wrong} things cannot be taken in as they stand` }}:
        </p>
        <ul>
          <li v-for="f in told.flaws" :key="`${f.line}${f.message}`" class="small">Line {{ f.line }}: {{ f.message }}</li>
          <li v-if="told.wrong > told.flaws.length" class="small">and {{ told.wrong - told.flaws.length }} more</li>
        </ul>
      </div>
      <label class="tick"><Checkbox v-model="replace" binary input-id="import-replace" /> What we know already gives way to what stands in the table;
        otherwise only gaps are filled</label>
      <fieldset v-if="told.people">
        <legend>Who answers for those of whom nobody does</legend>
        <label class="tick"><RadioButton v-model="owners" value="plan" name="import-owners" /> Whoever’s turn it is, by the routing plan</label>
        <div class="row give">
          <label class="tick"><RadioButton v-model="owners" value="member" name="import-owners" /> One of us</label>
          <Select
            v-model="member"
            :options="workers"
            option-label="name"
            option-value="id"
            size="small"
            placeholder="Who?"
            aria-label="Who gets them"
            @update:model-value="owners = 'member'"
          />
        </div>
        <label class="tick"><RadioButton v-model="owners" value="nobody" name="import-owners" /> Nobody: they stand on the list, and on no one’s Today</label>
        <p v-if="owners && owners !== 'nobody'" class="small faded">Whoever gets some is told once, for all of them.</p>
      </fieldset>
    </template>
    <section v-if="brought?.length" aria-labelledby="import-lately" class="lately">
      <h3 id="import-lately">Brought in lately</h3>
      <ul>
        <li v-for="b in brought" :key="b.id">
          <span>{{ at(b.madeAt) }}<span class="faded">, {{ b.by ?? 'somebody who has left' }}: {{ state(b) }}</span></span>
          <Button
            v-if="b.undoable"
            label="Take it back"
            size="small"
            variant="text"
            severity="secondary"
            :aria-label="`Take back what came ${at(b.madeAt)}`"
            :disabled="bringing"
            @click="undoHere(b.id)"
          />
        </li>
      </ul>
      <p class="small faded">
        For {{ IMPORT_DAYS }} days. Who came new by a table goes with it, unless something has happened to them since; what it filled is set
        back where nobody has changed it.
      </p>
    </section>
    <template #footer>
      <p v-if="bringing && coming" role="status" class="faded small progress">{{ state(coming) }} You can close this: it goes on.</p>
      <p v-else-if="why" class="faded small progress">{{ why }}</p>
      <Button label="Close" variant="text" severity="secondary" @click="close" />
      <Button
        :label="told ? `Bring in ${count(told.people, 'person', 'people')}` : 'Bring them in'"
        :disabled="!told?.people || Boolean(why)"
        :loading="busy && bringing"
        @click="bring"
      />
    </template>
  </Dialog>
</template>

<style scoped>
.file {
  display: inline-flex;
  gap: 10px;
  align-items: center;
  margin: 12px 0;
  cursor: pointer;
  position: relative;
}
.pick {
  padding: 6px 12px;
  border: 1px solid var(--spruce);
  border-radius: 4px;
  color: var(--spruce);
  font-weight: 560;
}
.file:focus-within .pick {
  outline: 2px solid var(--spruce);
  outline-offset: 2px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
}
.row h3 {
  flex: 1;
}
.columns {
  list-style: none;
  padding: 0;
  margin: 6px 0 12px;
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(270px, 1fr));
  gap: 6px 18px;
}
.columns li {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
  min-width: 0;
}
.header {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.columns .p-select {
  width: 160px;
  flex: none;
}
.again {
  margin: 12px 0;
  padding-left: 10px;
  border-left: 3px solid var(--honey);
}
.again ul {
  margin: 2px 0 6px;
  padding-left: 18px;
  max-height: 6rem;
  overflow: auto;
}
.flaws {
  margin: 8px 0;
  max-height: 9rem;
  overflow: auto;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
fieldset {
  border: 0;
  border-top: 1px solid var(--rule);
  margin: 14px 0 0;
  padding: 8px 0 0;
}
legend {
  font-weight: 600;
  padding: 0;
  float: left;
  width: 100%;
}
legend + * {
  clear: both;
}
.give .p-select {
  margin-top: 8px;
  min-width: 11rem;
}
.lately {
  margin-top: 16px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}
.lately ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
.lately li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  align-items: center;
  justify-content: space-between;
  min-height: 34px;
  border-bottom: 1px solid var(--rule);
}
.progress {
  margin: 0 auto 0 0;
}
</style>
