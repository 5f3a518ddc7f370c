<script setup lang="ts">
import type { DataTablePageEvent, DataTableSortEvent } from 'primevue/datatable'
import type { Condition } from '#core/conditions/condition'
import { COUNTED_NAMES } from '#core/figures/counted-filter'
import { COLUMNS, COLUMN_WORDS, SORTS_OF_COLUMNS, USUAL_COLUMNS, type ColumnKey } from '#core/follow-up/views'
import type { LeadView } from '#core/team'
import type { Status } from '#core/vocabulary'

useHead({ title: 'Leads – Cavlin' })
const house = useHouse()
const session = useSession()
const route = useRoute()
const router = useRouter()

const NOT_COUNTED = Object.fromEntries(COUNTED_NAMES.map(name => [name, ''])) as Record<(typeof COUNTED_NAMES)[number], string>
// The address holds the whole view: it can be kept, sent and gone back to.
const list = (name: string) => ([route.query[name] ?? []].flat() as string[]).filter(Boolean)
const view = computed(() => ({
  label: list('label'),
  owner: list('owner'),
  list: list('list'),
  status: list('status'),
  search: String(route.query.search ?? ''),
  waiting: route.query.waiting === 'true',
  segment: String(route.query.segment ?? ''),
  submitted: String(route.query.submitted ?? ''),
  tag: String(route.query.tag ?? ''),
  point: String(route.query.point ?? ''),
  condition: String(route.query.condition ?? ''),
  said: String(route.query.said ?? ''),
  ...(Object.fromEntries(COUNTED_NAMES.map(name => [name, String(route.query[name] ?? '')])) as Record<
    (typeof COUNTED_NAMES)[number],
    string
  >),
  sort: String(route.query.sort ?? 'updated'),
  order: route.query.order === 'up' ? 'up' : 'down',
  from: Math.max(0, Number(route.query.from) || 0),
  size: Number(route.query.size) || 25,
}))
function change(next: Partial<typeof view.value>): void {
  const all = { ...view.value, from: 0, ...next }
  const usual: Record<string, unknown> = {
    sort: 'updated',
    order: 'down',
    from: 0,
    size: 25,
    search: '',
    waiting: false,
    segment: '',
    submitted: '',
    tag: '',
    point: '',
    condition: '',
    said: '',
    ...NOT_COUNTED,
  }
  const query = Object.fromEntries(
    Object.entries(all)
      .filter(([k, v]) => (Array.isArray(v) ? v.length : v !== usual[k]))
      .map(([k, v]) => [k, Array.isArray(v) ? v : String(v)]),
  )
  void router.replace({ query: { ...query, ...(route.query.columns && { columns: route.query.columns }) } })
}
/** Which columns, in which order: as the address says, else as one had them last. */
const KEPT = `cavlin.columns ${session.me!.id}`
const isColumn = (key: string): key is ColumnKey =>
  (COLUMNS as readonly string[]).includes(key) || house.words!.properties.some(p => `p.${p.key}` === key && !p.retired)
function lastColumns(): string[] {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? 'null') ?? USUAL_COLUMNS
  } catch {
    return USUAL_COLUMNS
  }
}
const own = ref(lastColumns())
const columns = computed<ColumnKey[]>({
  get: () => [...new Set(route.query.columns ? String(route.query.columns).split(',') : own.value)].filter(isColumn),
  set: keys => {
    own.value = keys
    try {
      localStorage.setItem(KEPT, JSON.stringify(keys))
    } catch {
      /* they stay as long as the page does */
    }
    if (route.query.columns) void router.replace({ query: { ...route.query, columns: keys.join() } })
  },
})
const headOf = (key: ColumnKey) => COLUMN_WORDS[key as (typeof COLUMNS)[number]] ?? house.propertyName(key.slice(2))
const classOf = (key: ColumnKey) => ({
  number: ['fit', 'interest', 'value'].includes(key),
  line: ['label', 'status', 'waiting', 'updated', 'created'].includes(key),
})
/** The view as it is kept: what the address says, without the page. */
const asKept = computed(() =>
  Object.fromEntries(
    Object.entries(route.query)
      .filter(([k, v]) => v !== null && !['from', 'size', 'columns'].includes(k))
      .map(([k, v]) => [k, Array.isArray(v) ? v.map(String) : String(v)]),
  ),
)
const openView = (kept: { query: Record<string, string | string[]>; columns: ColumnKey[] }) => {
  search.value = String(kept.query.search ?? '')
  void router.push({ query: { ...kept.query, ...(kept.columns.length && { columns: kept.columns.join() }) } })
}
const wide = useWide(760)
/** On a narrow screen the filters would stand before the leads. */
const unfolded = ref(false)
const asking = ref<{ lead: LeadView; status: Status } | null>(null)
const asksMore = ref(false)
function ask(lead: LeadView, status: Status): void {
  asking.value = { lead, status }
  asksMore.value = true
}
/** The filters that are set. */
const filters = computed(() => {
  const { waiting, sort: _s, order: _o, from: _f, size: _n, ...rest } = view.value
  return { ...Object.fromEntries(Object.entries(rest).filter(([, v]) => v.length)), ...(waiting && { waiting: true }) }
})
const away = (as: string) =>
  `/api/team/leads/take-away?${new URLSearchParams([['as', as], ...Object.entries(filters.value).flatMap(([k, v]) => [v].flat().map((one): [string, string] => [k, String(one)]))])}`
const { data: points } = useLiveQuery(() => api<{ id: string; key: string; name: string }[]>('/api/team/points'), { points: true }, 5000)
const { leadAttributes, activityAttributes } = useLeadAttributes()
const condition = computed<Condition | null>(() => {
  try {
    return view.value.condition ? (JSON.parse(view.value.condition) as Condition) : null
  } catch {
    return null
  }
})
interface LeadCount {
  total: number
  more: boolean
}
/** Where each lead has to be judged, the first are shown before all are counted. */
const countsLater = computed(() => Boolean(view.value.condition || view.value.segment))
const about = () => ({ leads: true as const, ...(view.value.segment && { segments: true as const }) })
const { data, problem, refresh } = useLiveQuery(
  () => {
    const { sort, order, from, size } = view.value
    return api<LeadCount & { leads: LeadView[] }>('/api/team/leads', {
      query: { ...filters.value, sort, order, from, size, ...(countsLater.value && { count: 'later' }) },
    })
  },
  about,
  500,
)
const whose = () => JSON.stringify(filters.value)
const { data: later, refresh: countAnew } = useLiveQuery(
  async () => {
    if (!countsLater.value) return null
    const of = whose()
    return { of, ...(await api<LeadCount>('/api/team/leads/count', { query: filters.value })) }
  },
  about,
  2000,
)
/** How many there are; null while they are counted. */
const size = computed<LeadCount | null>(() => {
  if (!countsLater.value || !data.value) return data.value
  const { total, more } = data.value
  if (!more && (total || !view.value.from)) return { total, more: false }
  return later.value?.of === whose() ? later.value : null
})
/** What can be paged through: while they are counted, one page more than there is. */
const reach = computed(() => size.value?.total ?? (data.value ? data.value.total + (data.value.more ? 1 : 0) : 0))
watch(data, now => {
  if (now) keepWay({ from: route.fullPath, called: 'All leads', leads: now.leads.map(l => l.id) })
})
const { setStatus } = useLeadActs(
  () => asking.value?.lead ?? null,
  () => refresh(),
)
watch(view, (a, b) => {
  if (JSON.stringify(a) !== JSON.stringify(b)) void refresh()
})
watch(whose, () => void countAnew())
/** How many there are, in words. */
const figures = computed(() => {
  if (!data.value) return ''
  if (!size.value) return 'Counting …'
  const { total, more } = size.value
  return (more ? 'over ' : '') + (filtered.value ? count(total, 'fits', 'fit') : count(total, 'lead', 'leads'))
})

const search = ref(view.value.search)
let timer: ReturnType<typeof setTimeout> | undefined
watch(search, text => {
  clearTimeout(timer)
  timer = setTimeout(() => {
    if (text.trim() !== view.value.search) change({ search: text.trim() })
  }, 200)
})
watch(
  () => view.value.search,
  text => {
    if (text !== search.value.trim()) search.value = text
  },
)

const labels = computed(() => [...house.words!.labels.map(l => ({ key: l.key, name: l.name })), { key: 'none', name: 'No label' }])
const owners = computed(() => [
  ...house
    .words!.members.filter(m => m.role !== 'marketer')
    .map(m => ({ key: m.id, name: m.id === session.me!.id ? `${m.name} (you)` : m.name })),
  { key: 'none', name: 'Nobody' },
])
/** Filters of which several may be chosen. */
const picks = computed(() => {
  const { statuses, lists } = house.words!
  return [
    { of: 'label' as const, called: 'Label', many: 'labels', by: 'key', options: labels.value },
    { of: 'owner' as const, called: 'Owner', many: 'owners', by: 'key', options: owners.value },
    { of: 'status' as const, called: 'Status', many: 'statuses', by: 'key', options: statuses },
    ...(lists.length ? [{ of: 'list' as const, called: 'List', many: 'lists', by: 'id', options: lists }] : []),
  ]
})
/** Whom a figure counts, in words. */
const counted = computed(() => {
  const { passed, days, firstPoint, firstSource, came, ever, stage } = view.value
  const point = points.value?.find(p => p.key === firstPoint)
  return [
    passed &&
      `${({ entry: 'Sent something', owner: 'Got an owner', worked: 'Were worked on first', closed: 'Were closed', won: 'Won, and so still' } as Record<string, string>)[passed] ?? passed} in the last ${days || '30'} days`,
    firstPoint && `came first through ${point?.name ?? firstPoint}`,
    firstSource && `came first from ${firstSource === 'direct' ? 'nowhere we know of' : firstSource}`,
    came && `came in the last ${came} days`,
    ever && 'qualified at some time',
    stage && `are ${stage} now`,
  ]
    .filter(Boolean)
    .join(', ')
})
const filtered = computed(() =>
  Boolean(
    view.value.label.length ||
    view.value.owner.length ||
    view.value.list.length ||
    view.value.status.length ||
    view.value.search ||
    view.value.waiting ||
    view.value.segment ||
    view.value.submitted ||
    counted.value ||
    view.value.said ||
    view.value.tag ||
    view.value.point ||
    view.value.condition,
  ),
)
const onSort = (e: DataTableSortEvent) => change({ sort: String(e.sortField), order: e.sortOrder === 1 ? 'up' : 'down' })
const onPage = (e: DataTablePageEvent) => change({ from: e.first, size: e.rows })

const ticked = ref<LeadView[]>([])
watch(filters, () => {
  ticked.value = []
})
const adding = ref(false)
const at = ref(-1)
watch(data, () => {
  at.value = Math.min(at.value, (data.value?.leads.length ?? 0) - 1)
})
const rowClass = (lead: LeadView) => (data.value?.leads[at.value]?.id === lead.id ? 'at' : '')
function step(by: number): void {
  at.value = Math.min((data.value?.leads.length ?? 0) - 1, Math.max(0, at.value + by))
  void nextTick(() => document.querySelector('tr.at')?.scrollIntoView({ block: 'nearest' }))
}
const open = (lead: LeadView | undefined) => {
  if (lead) void router.push(`/follow-up/leads/${lead.id}`)
}
function tick(): void {
  const lead = data.value?.leads[at.value]
  if (!lead || !session.may('work leads')) return
  const others = ticked.value.filter(l => l.id !== lead.id)
  ticked.value = others.length < ticked.value.length ? others : [...others, lead]
}
useKeys({ x: tick, j: () => step(1), k: () => step(-1), Enter: () => open(data.value?.leads[at.value]) })
</script>

<template>
  <div>
    <StageViews :views="FOLLOW_UP_VIEWS" called="Follow up" />
    <div class="head">
      <h1>Leads</h1>
      <Button v-if="session.may('work leads')" label="Write somebody down …" size="small" variant="text" @click="adding = true" />
      <LeadNewLead v-if="session.may('work leads')" v-model:visible="adding" />
      <LeadViews :query="asKept" :columns="columns" @open="openView" />
      <LeadColumns v-if="wide" v-model="columns" />
      <span class="faded figures" role="status">
        {{ figures }}
      </span>
      <Button
        v-if="!wide"
        :label="filtered ? 'Filters, some are set' : 'Filters'"
        variant="text"
        size="small"
        :aria-expanded="unfolded"
        aria-controls="filters"
        @click="unfolded = !unfolded"
      />
      <div v-show="wide || unfolded" id="filters" class="filters" role="search" aria-label="Filter the leads">
        <InputText v-model="search" placeholder="Name, company, address" aria-label="Search the leads" class="search" />
        <MultiSelect
          v-for="pick in picks"
          :key="pick.of"
          :model-value="view[pick.of]"
          :options="pick.options"
          option-label="name"
          :option-value="pick.by"
          :placeholder="`Any ${pick.of}`"
          :aria-label="pick.called"
          :show-toggle-all="false"
          :max-selected-labels="1"
          :selected-items-label="`{0} ${pick.many}`"
          @update:model-value="change({ [pick.of]: $event })"
        />
        <Select
          v-if="house.words!.segments.length"
          :model-value="view.segment || null"
          :options="house.words!.segments"
          option-label="name"
          option-value="id"
          placeholder="Any segment"
          aria-label="Segment"
          show-clear
          class="segment"
          @update:model-value="change({ segment: $event ?? '' })"
        />
        <Select
          v-if="points?.length"
          :model-value="view.point || null"
          :options="points"
          option-label="name"
          option-value="id"
          placeholder="Any form"
          aria-label="Form that they sent"
          show-clear
          class="segment"
          @update:model-value="change({ point: $event ?? '' })"
        />
        <InputText
          :model-value="view.tag"
          placeholder="Tag"
          aria-label="Tag"
          class="tag"
          maxlength="60"
          @change="change({ tag: ($event.target as HTMLInputElement).value.trim().replace(/^#/, '') })"
        />
        <label class="tick">
          <Checkbox :model-value="view.waiting" binary input-id="waiting" @update:model-value="change({ waiting: Boolean($event) })" />
          Waiting</label>
        <label class="tick">
          <Checkbox
            :model-value="view.submitted === 'no'"
            binary
            input-id="unsubmitted"
            @update:model-value="change({ submitted: $event ? 'no' : '' })"
          />
          Not sent yet</label>
        <Button v-if="!condition" label="Any condition …" variant="text" @click="change({ condition: JSON.stringify({ all: [] }) })" />
        <Button
          v-if="filtered"
          label="Show all"
          variant="text"
          @click="search = ''; change({ label: [], owner: [], list: [], status: [], search: '', waiting: false, segment: '', submitted: '', tag: '', point: '', condition: '', said: '', ...NOT_COUNTED })"
        />
        <span v-if="counted" class="small said">
          {{ counted[0]!.toUpperCase() + counted.slice(1) }}
          <Button label="Take it out" size="small" variant="text" @click="change({ ...NOT_COUNTED })" />
        </span>
        <span v-if="view.said" class="small said">In notes and mails:
          <b>{{ view.said }}</b> <Button label="Take it out" size="small" variant="text" @click="change({ said: '' })" />
        </span>
        <p class="away small">Take them away as <a :href="away('csv')" download>CSV</a> or <a :href="away('xlsx')" download>XLSX</a></p>
      </div>
      <ConditionTree
        v-if="condition"
        class="which"
        :model-value="condition"
        :attributes="leadAttributes"
        :activity-attributes="activityAttributes"
        called="Which leads"
        @update:model-value="change({ condition: JSON.stringify($event) })"
      />
    </div>
    <p v-if="problem" class="problem" role="alert">
      {{ problem.message }} <Button label="Show all" size="small" variant="text" @click="router.replace({ query: {} })" />
    </p>
    <LeadBulkBar
      v-if="session.may('work leads')"
      :chosen="ticked.map(l => l.id)"
      :total="size?.total ?? 0"
      :query="filters"
      @done="ticked = []; refresh()"
    />
    <LeadStatusDialog
      v-if="asking"
      v-model:visible="asksMore"
      :name="asking.lead.name"
      :status="asking.status"
      :set="said => setStatus(asking!.status.key, said)"
    />
    <LeadCards
      v-if="!wide && data"
      v-model="ticked"
      :leads="data.leads"
      :total="size?.total ?? null"
      :reach="reach"
      :from="view.from"
      :size="view.size"
      :sort="view.sort"
      :up="view.order === 'up'"
      :filtered="filtered"
      @sort="(sort, up) => change({ sort, order: up ? 'up' : 'down' })"
      @page="from => change({ from })"
    />
    <DataTable
      v-if="wide"
      v-model:selection="ticked"
      :value="data?.leads ?? []"
      lazy
      :total-records="reach"
      :rows="view.size"
      :first="view.from"
      paginator
      :rows-per-page-options="[25, 50, 100]"
      :always-show-paginator="false"
      data-key="id"
      :sort-field="view.sort"
      :sort-order="view.order === 'up' ? 1 : -1"
      :row-class="rowClass"
      size="small"
      class="leads"
      :loading="!data && !problem"
      @sort="onSort"
      @page="onPage"
    >
      <template #empty>
        <p class="empty">
          {{ filtered ? 'Nobody fits these filters. Take one away, or show all.' : 'Nobody yet. Whoever fills in a form that is live stands here a moment later.' }}
        </p>
      </template>
      <Column
        v-if="session.may('work leads')"
        selection-mode="multiple"
        class="tickbox"
        :pt="{ pcHeaderCheckbox: { input: { 'aria-label': 'Choose all on this page' } } }"
      />
      <Column field="name" header="Name" sortable>
        <template #body="{ data: lead }">
          <span class="cell">
            <LeadPin :fit="lead.fit" :interest="lead.interest" :reasons="lead.reasons" />
            <span>
              <NuxtLink :to="`/follow-up/leads/${lead.id}`">{{ lead.name }}</NuxtLink>
              <span v-if="!lead.submitted" class="faded small unsubmitted">not sent yet</span>
            </span>
          </span>
        </template>
      </Column>
      <Column
        v-for="key in columns"
        :key="key"
        :field="key"
        :header="headOf(key)"
        :sortable="SORTS_OF_COLUMNS.includes(key)"
        :class="classOf(key)"
      >
        <template #body="{ data: lead }">
          <LeadCell :lead="lead" :column="key" :disabled="!session.may('work leads')" @changed="refresh()" @ask="ask(lead, $event)" />
        </template>
      </Column>
    </DataTable>
  </div>
</template>

<style scoped>
.head { display: flex; flex-wrap: wrap; gap: 8px 12px; align-items: baseline; margin-bottom: 12px; }
.filters { display: flex; flex-wrap: wrap; gap: 8px; align-items: center; margin-left: auto; }
.filters .p-multiselect { width: 142px; }
.which { flex-basis: 100%; } .away { margin: 0 0 0 auto; } .tag { width: 100px; }
.search { width: 210px; } .segment { width: 158px; }
.tick { display: flex; gap: 7px; align-items: center; }
.cell { display: flex; gap: 9px; align-items: center; overflow-wrap: anywhere; }
.cell a { font-weight: 600; color: inherit; text-decoration: none; }
.unsubmitted { display: block; }
.cell a:hover { text-decoration: underline; }
.leads :deep(td), .leads :deep(th) { font-size: 14px; line-height: 20px; }
.leads :deep(.number) { text-align: right; }
.leads :deep(.number .p-datatable-column-header-content) { justify-content: flex-end; }
.leads :deep(.line) { white-space: nowrap; }
.leads :deep(tr.at td) { background: var(--wash); }
.problem { color: var(--brick); margin-bottom: 8px; }
.empty { padding: 24px; text-align: center; color: var(--faded); }
@media (max-width: 900px) { .filters { margin-left: 0; } }
@media (max-width: 560px) { .search { width: 100%; } }
</style>
