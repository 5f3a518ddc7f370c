<script setup lang="ts">
import type { BoardView } from '#core/team'
import type { Status } from '#core/vocabulary'

/** The course's own line, cut at each status: who stands where, and how long already beside those that were won. */
useHead({ title: 'Board – Cavlin' })
const house = useHouse()
const session = useSession()
const route = useRoute()
const router = useRouter()
const owner = computed(() => String(route.query.owner ?? (session.me!.role === 'sales' ? session.me!.id : '')))
const { data, problem, refresh } = useLiveQuery(
  () => api<BoardView>('/api/team/board', { query: owner.value && owner.value !== 'all' ? { owner: owner.value } : {} }),
  { leads: true },
  800,
)
watch(owner, () => void refresh())
const owners = computed(() => [
  { id: 'all', name: 'Everybody’s' },
  ...house
    .words!.members.filter(m => m.role !== 'marketer')
    .map(m => ({ id: m.id, name: m.id === session.me!.id ? `${m.name} (you)` : m.name })),
])
const columns = computed(() =>
  house
    .words!.statuses.filter(s => s.stage === 'first' || s.stage === 'open')
    .map(status => ({ status, col: data.value?.columns.find(c => c.status === status.key) ?? null })),
)
const ends = computed(() => house.words!.statuses.filter(s => s.stage !== 'first' && s.stage !== 'open'))
watch(data, now => {
  if (now) keepWay({ from: route.fullPath, called: 'Board', leads: now.columns.flatMap(c => c.leads.map(l => l.id)) })
})

// The card in hand: by arrows, or dragged.
const held = ref<string | null>(null)
const find = (id: string | null) =>
  data.value?.columns.flatMap(c => c.leads.map(lead => ({ lead, status: c.status }))).find(x => x.lead.id === id) ?? null
const inHand = ref<{ id: string; name: string; status: string } | null>(null)
const { setStatus } = useLeadActs(() => inHand.value as never, refresh)
const asking = ref<Status | null>(null)
const asksMore = ref(false)
async function moveTo(id: string, key: string): Promise<void> {
  const found = find(id)
  const status = house.words!.statuses.find(s => s.key === key)
  if (!found || !status || found.status === key || !session.may('work leads')) return
  inHand.value = { id, name: found.lead.name, status: found.status }
  if (status.asks.length || status.stage === 'parked') {
    asking.value = status
    asksMore.value = true
    return
  }
  await setStatus(key)
  focus(id)
}
const focus = (id: string) => void nextTick(() => document.getElementById(`card-${id}`)?.focus())
const order = computed(() => house.words!.statuses.map(s => s.key))
function key(event: KeyboardEvent, id: string, column: number): void {
  const { status } = find(id)!
  const leads = columns.value[column]!.col?.leads ?? []
  const at = leads.findIndex(l => l.id === id)
  const go = (to: string | undefined) => {
    if (to) focus(to)
  }
  const acts: Record<string, () => void> = {
    ArrowDown: () => go(leads[at + 1]?.id),
    ArrowUp: () => go(leads[at - 1]?.id),
    ArrowRight: () =>
      event.shiftKey ? void moveTo(id, order.value[order.value.indexOf(status) + 1] ?? status) : go(neighbour(column, 1, at)),
    ArrowLeft: () =>
      event.shiftKey ? void moveTo(id, order.value[order.value.indexOf(status) - 1] ?? status) : go(neighbour(column, -1, at)),
  }
  if (!acts[event.key]) return
  event.preventDefault()
  acts[event.key]!()
}
function neighbour(column: number, by: 1 | -1, at: number): string | undefined {
  for (let c = column + by; c >= 0 && c < columns.value.length; c += by) {
    const leads = columns.value[c]!.col?.leads ?? []
    if (leads.length) return leads[Math.min(at, leads.length - 1)]!.id
  }
}
const over = ref<string | null>(null)
function drop(key: string): void {
  over.value = null
  if (held.value) void moveTo(held.value, key)
  held.value = null
}
/** How far along the range of days that won ones took there; in words beyond nine in ten of them. */
const spot = (days: number, range: BoardView['columns'][number]['range']) =>
  range ? Math.min(100, (100 * days) / Math.max(1, range.high)) : null
const daysText = (days: number) => (days < 1 ? 'today' : count(Math.floor(days), 'day', 'days'))
</script>

<template>
  <div>
    <StageViews :views="FOLLOW_UP_VIEWS" called="Follow up" />
    <div class="head">
      <h1>Board</h1>
      <Select
        :model-value="owner || 'all'"
        :options="owners"
        option-label="name"
        option-value="id"
        aria-label="Whose leads"
        @update:model-value="router.replace({ query: { owner: $event } })"
      />
      <p class="faded small">The dot says how long somebody has stood there, on the days that won ones took. Arrows go from one to the next;
        with Shift they move a lead on.</p>
    </div>
    <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
    <div class="scroll" tabindex="0" role="region" aria-label="Leads by status">
      <div class="board" :style="{ '--n': columns.length }">
        <section
          v-for="({ status, col }, c) in columns"
          :key="status.key"
          :aria-labelledby="`col-${status.key}`"
          :class="{ over: over === status.key }"
          @dragover.prevent="over = status.key"
          @dragleave="over = null"
          @drop.prevent="drop(status.key)"
        >
          <h2 :id="`col-${status.key}`">
            {{ status.name }}
            <NuxtLink
              :to="{ path: '/follow-up', query: { status: status.key, ...(owner && owner !== 'all' && { owner }) } }"
              class="n figures"
            >
              {{ col?.total ?? 0 }}
            </NuxtLink>
          </h2>
          <p class="faded small range">
            {{ col?.range ? `Nine in ten won ones stood here up to ${count(Math.ceil(col.range.high), 'day', 'days')}` : 'Too few won ones to say how long it takes' }}
          </p>
          <ol>
            <li
              v-for="lead in col?.leads ?? []"
              :key="lead.id"
              draggable="true"
              :class="{ held: held === lead.id }"
              @dragstart="held = lead.id"
              @dragend="held = null; over = null"
            >
              <LeadPin :fit="lead.fit" :interest="lead.interest" :reasons="[]" />
              <NuxtLink :id="`card-${lead.id}`" :to="`/follow-up/leads/${lead.id}`" draggable="false" @keydown="key($event, lead.id, c)">
                <span class="name">{{ lead.name }}</span>
                <span v-if="lead.company" class="faded">{{ lead.company }}</span>
              </NuxtLink>
              <span class="stood small faded">
                <span v-if="col?.range && lead.days <= col.range.high" class="line" aria-hidden="true">
                  <span :style="{ left: `${spot(lead.days, col.range)}%` }" />
                </span>
                <b v-if="col?.range && lead.days > col.range.high" class="long">{{ daysText(lead.days) }}, beyond nine in ten</b>
                <template v-else>{{ daysText(lead.days) }}</template>
              </span>
            </li>
          </ol>
          <p v-if="col && col.total > col.leads.length" class="faded small">and {{ col.total - col.leads.length }} more</p>
        </section>
        <section class="ends" aria-label="Ends">
          <div
            v-for="status in ends"
            :key="status.key"
            class="end"
            :class="{ over: over === status.key }"
            @dragover.prevent="over = status.key"
            @dragleave="over = null"
            @drop.prevent="drop(status.key)"
          >
            <b>{{ status.name }}</b>
            <NuxtLink
              :to="{ path: '/follow-up', query: { status: status.key, ...(owner && owner !== 'all' && { owner }) } }"
              class="figures"
            >
              {{ data?.ends[status.key] ?? 0 }}
            </NuxtLink>
          </div>
        </section>
      </div>
    </div>
    <LeadStatusDialog
      v-if="inHand"
      v-model:visible="asksMore"
      :name="inHand.name"
      :status="asking"
      :set="said => setStatus(asking!.key, said)"
    />
  </div>
</template>

<style scoped>
.head { display: flex; flex-wrap: wrap; gap: 6px 14px; align-items: center; margin-bottom: 12px; }
.board { display: grid; grid-template-columns: repeat(var(--n), minmax(200px, 1fr)) 130px; min-width: 760px; align-items: start; }
section { padding: 0 12px 16px; border-left: 1px solid var(--rule); min-height: 60vh; border-top: 5px solid var(--spruce); }
section:first-child { border-left: 0; padding-left: 0; }
.ends { border-top-color: var(--rule); display: grid; gap: 10px; align-content: start; padding-top: 8px; }
.over { background: var(--wash); }
h2 { font-size: 15px; line-height: 22px; display: flex; justify-content: space-between; padding-top: 6px; }
.range { min-height: 36px; }
ol { list-style: none; margin: 0; padding: 0; }
li { display: grid; grid-template-columns: 16px 1fr; gap: 0 9px; padding: 7px 0; border-top: 1px solid var(--rule); cursor: grab; }
li.held { opacity: 0.5; }
li a { color: inherit; text-decoration: none; overflow-wrap: anywhere; } li a:hover .name { text-decoration: underline; }
.name { font-weight: 600; margin-right: 0.4em; }
.stood { grid-column: 2; display: flex; gap: 8px; align-items: center; }
.line { position: relative; flex: 0 0 60px; height: 1px; background: var(--faded); }
.line span { position: absolute; top: -3px; width: 7px; height: 7px; margin-left: -3px; border-radius: 50%; background: var(--spruce); }
.long { color: var(--honey); font-weight: 560; }
.end { display: flex; justify-content: space-between; gap: 8px; padding: 14px 10px; border: 1px dashed var(--rule); }
</style>
