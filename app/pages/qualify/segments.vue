<script setup lang="ts">
import { Plus } from 'lucide-vue-next'
import type { Condition } from '#core/conditions/condition'
import type { Segment } from '#core/segments/segment'
const views = useQualifyViews()

useHead({ title: 'Segments and lists – Cavlin' })
const session = useSession()
const house = useHouse()
const say = useToasts()
const route = useRoute()
const router = useRouter()
type Row = Segment & { leads: number; uses: string[] }
interface Counted {
  leads: number
  of: number
  some: { id: string; name: string; company: string | null; label: string | null }[]
}

const {
  data: segments,
  problem,
  refresh,
} = useLiveQuery(() => api<Row[]>('/api/team/segments'), { segments: true, lists: true, leads: true, trail: true }, 2000)
const { leadAttributes, activityAttributes } = useLeadAttributes()
const inWords = useConditionWords()
const mayEdit = computed(() => session.may('edit segments'))

/** The segment in hand: its id, or `new`. What is typed stays over a reload until it is saved or dropped. */
const chosen = computed(() => String(route.query.segment ?? ''))
const row = computed(() => segments.value?.find(s => s.id === chosen.value))
const draft = ref<{ name: string; condition: Condition } | null>(null)
const flaw = ref('')
const saving = ref(false)
const KEY = (id: string) => `cavlin.segment.${id}`
const START: Condition = {
  all: [{ did: 'page', where: { all: [{ attribute: 'page.path', is: 'equal', value: '/prices' }] }, times: 2, days: 7 }],
}
function stored(id: string): { name: string; condition: Condition } | null {
  try {
    return JSON.parse(sessionStorage.getItem(KEY(id)) ?? 'null') as { name: string; condition: Condition } | null
  } catch {
    return null
  }
}
function store(id: string, value: object | null): void {
  try {
    if (value) sessionStorage.setItem(KEY(id), JSON.stringify(value))
    else sessionStorage.removeItem(KEY(id))
  } catch {
    /* Without storage it holds as long as the page. */
  }
}
watch(
  [chosen, segments],
  ([id, all], before) => {
    if (id === before?.[0] && draft.value) return
    flaw.value = ''
    if (id === 'new') draft.value = stored(id) ?? { name: '', condition: START }
    else {
      const own = all?.find(s => s.id === id)
      draft.value = own ? (stored(id) ?? { name: own.name, condition: own.condition }) : null
    }
  },
  { immediate: true },
)
const changed = computed(
  () =>
    Boolean(draft.value) &&
    (chosen.value === 'new' || JSON.stringify({ name: row.value?.name, condition: row.value?.condition }) !== JSON.stringify(draft.value)),
)
watch(
  draft,
  now => {
    if (now && chosen.value) store(chosen.value, changed.value ? now : null)
  },
  { deep: true },
)

const counted = shallowRef<Counted | null>(null)
const countFlaw = ref('')
let asked = 0
async function countNow(): Promise<void> {
  const mine = ++asked
  if (!draft.value) return
  try {
    const came = await api<Counted>('/api/team/segments/count', { method: 'POST', body: { condition: draft.value.condition } })
    if (mine === asked) {
      counted.value = came
      countFlaw.value = ''
    }
  } catch (error) {
    if (mine === asked) countFlaw.value = (error as Error).message
  }
}
let timer: ReturnType<typeof setTimeout> | undefined
watch(
  () => JSON.stringify(draft.value?.condition),
  () => {
    clearTimeout(timer)
    timer = setTimeout(() => void countNow(), counted.value ? 250 : 0)
  },
  { immediate: true },
)
watch(segments, () => void countNow())
onScopeDispose(() => clearTimeout(timer))

const choose = (id: string) => router.replace({ query: id ? { segment: id } : {} })
async function save(): Promise<void> {
  saving.value = true
  flaw.value = ''
  try {
    const id = chosen.value
    if (id === 'new') {
      const made = await api<{ id: string }>('/api/team/segments', { method: 'POST', body: draft.value! })
      store('new', null)
      await Promise.all([refresh(), house.load()])
      await choose(made.id)
    } else {
      await api(`/api/team/segments/${id}`, { method: 'PUT', body: draft.value! })
      store(id, null)
      await Promise.all([refresh(), house.load()])
    }
    say.done(`${draft.value!.name} is saved.`)
  } catch (error) {
    flaw.value = (error as Error).message
  } finally {
    saving.value = false
  }
}
function drop(): void {
  store(chosen.value, null)
  if (chosen.value === 'new') void choose('')
  else if (row.value) draft.value = { name: row.value.name, condition: row.value.condition }
}
async function remove(s: Row): Promise<void> {
  try {
    await api(`/api/team/segments/${s.id}`, { method: 'DELETE' })
    await choose('')
    await refresh()
    say.done(`${s.name} is gone. Nobody in it is.`, async () => {
      await api(`/api/team/segments/${s.id}`, { method: 'PUT', body: { name: s.name, condition: s.condition } })
      await refresh()
    })
  } catch (error) {
    say.failed(error)
  }
}
const share = computed(() => (counted.value && counted.value.of ? counted.value.leads / counted.value.of : 0))
</script>

<template>
  <div class="page">
    <StageViews :views="views" called="Qualify" />
    <div class="head">
      <h1>Segments and lists</h1>
      <span class="faded">Segments describe people and keep themselves right; lists hold whom somebody put there</span>
    </div>
    <p v-if="problem && !segments" role="alert" class="brick">{{ problem.message }}</p>
    <div class="panes" :class="{ one: chosen }">
      <div>
        <section class="sheet" aria-labelledby="segments">
          <div class="title">
            <h2 id="segments">Segments</h2>
            <Button v-if="mayEdit" label="New segment" size="small" @click="choose('new')">
              <template #icon><Plus :size="15" aria-hidden="true" /></template>
            </Button>
          </div>
          <p v-if="segments && !segments.length" class="faded pad">Say whom you mean: read the prices twice this week, a school, no entry
            yet. The count stands beside it while you do.</p>
          <ul>
            <li v-for="s in segments ?? []" :key="s.id">
              <a :href="`?segment=${s.id}`" :aria-current="chosen === s.id || undefined" @click.prevent="choose(s.id)">
                <b>{{ s.name }}</b>
                <span class="figure">{{ s.leads.toLocaleString('en') }}</span>
                <span class="faded small what">{{ inWords(s.condition) }}</span>
              </a>
            </li>
          </ul>
        </section>
        <ListTable :may-edit="mayEdit" />
      </div>
      <section v-if="draft" class="sheet editor" aria-label="The segment in hand">
        <Button label="All segments and lists" variant="text" size="small" class="back" @click="choose('')" />
        <label for="segment-name">Name</label>
        <InputText
          id="segment-name"
          v-model="draft.name"
          maxlength="60"
          fluid
          :disabled="!mayEdit"
          placeholder="Read the prices twice"
          :aria-invalid="Boolean(flaw)"
          aria-describedby="segment-flaw"
        />
        <div class="count" role="status">
          <p v-if="countFlaw" class="brick">{{ countFlaw }}</p>
          <template v-else-if="counted">
            <p>
              <b class="figures big">{{ counted.leads.toLocaleString('en') }}</b> of {{ count(counted.of, 'lead', 'leads') }}
              <NuxtLink v-if="row && !changed" :to="{ path: '/follow-up', query: { segment: row.id } }">Show them</NuxtLink>
            </p>
            <div class="share" aria-hidden="true"><i :style="{ width: `${Math.max(share * 100, counted.leads ? 0.6 : 0)}%` }" /></div>
          </template>
          <p v-else class="faded">Counting …</p>
        </div>
        <h3>Who is in it</h3>
        <ConditionTree
          v-model="draft.condition"
          :attributes="leadAttributes"
          :activity-attributes="activityAttributes"
          :disabled="!mayEdit"
          called="Who is in it"
        />
        <h3 v-if="counted?.some.length" class="rule">Some of them</h3>
        <ul v-if="counted?.some.length" class="some" aria-label="Some of them">
          <li v-for="p in counted.some" :key="p.id">
            <NuxtLink :to="`/follow-up/leads/${p.id}`">
              {{ p.name }}
            </NuxtLink> <span class="faded small">
              {{ [p.company, house.labelName(p.label)].filter(Boolean).join(', ') }}
            </span>
          </li>
        </ul>
        <p v-if="row?.uses.length" class="small faded">Asked for by {{ row.uses.join(', ') }}. A change here changes who that means, from
          now on.</p>
        <p v-if="flaw" id="segment-flaw" class="brick" role="alert">{{ flaw }}</p>
        <div v-if="mayEdit" class="do">
          <Button label="Save" :disabled="!changed || !draft.name.trim()" :loading="saving" @click="save" />
          <Button
            v-if="changed"
            :label="chosen === 'new' ? 'Drop it' : 'Back to what is saved'"
            variant="text"
            severity="secondary"
            @click="drop"
          />
          <Button v-if="row" label="Take away" variant="text" severity="secondary" class="away" @click="remove(row)" />
        </div>
        <p v-else class="small faded">Admins and marketers can change segments.</p>
      </section>
      <section v-else class="sheet editor idle">
        <p class="faded">
          {{ chosen && segments ? 'There is no such segment. Perhaps somebody took it away.' : 'Choose a segment to see who is in it, or make a new one. Wherever a condition stands, you can ask for it by name: who sees a form, who is told, how leads are scored and routed.' }}
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.panes { display: grid; grid-template-columns: minmax(0, 5fr) minmax(0, 7fr); gap: 20px; align-items: start; }
.title { display: flex; justify-content: space-between; align-items: center; padding: 10px 14px; border-bottom: 1px solid var(--rule); }
.pad { padding: 14px; }
ul { list-style: none; margin: 0; padding: 0; }
li a { color: inherit; }
section ul:not(.some) li { border-bottom: 1px solid var(--rule); }
section ul li:last-child { border-bottom: 0; }
section ul:not(.some) a { display: grid; grid-template-columns: 1fr auto; gap: 0 12px; padding: 9px 14px; text-decoration: none; overflow-wrap: anywhere; }
a[aria-current] { background: var(--wash); }
.figure { font-variant-numeric: tabular-nums; text-align: right; }
.what { grid-column: 1; display: -webkit-box; -webkit-line-clamp: 2; -webkit-box-orient: vertical; overflow: hidden; }
.editor { padding: 14px 16px; display: grid; gap: 8px; min-width: 0; }
.editor label { font-size: 13px; line-height: 18px; color: var(--faded); }
.count { position: sticky; top: 56px; z-index: 1; background: var(--sheet); padding: 6px 0 10px; border-bottom: 1px solid var(--rule); }
.big { font: 640 26px/30px var(--heading); }
.share { height: 6px; background: var(--rule); margin-top: 4px; } .share i { display: block; height: 100%; background: var(--slate); }
.rule { padding-top: 8px; border-top: 1px solid var(--rule); }
.some { columns: 2; gap: 20px; } .some li { break-inside: avoid; padding: 2px 0; overflow-wrap: anywhere; }
.do { display: flex; flex-wrap: wrap; gap: 8px; } .away { margin-left: auto; }
.idle { padding: 40px; text-align: center; }
.back { display: none; }
@media (max-width: 900px) { .one > :first-child { display: none; } .back { display: inline-flex; justify-self: start; } .count { position: static; } .panes { grid-template-columns: minmax(0, 1fr); } .rule { padding-top: 8px; border-top: 1px solid var(--rule); }
.some { columns: 1; } }
</style>
