<script setup lang="ts">
import { proportion } from '#core/stats/proportion'
import type { TeamTodayView } from '#core/team'

/** Today for who manages: the team's load and promises, each figure with its people, and what to do about them. */
const house = useHouse()
const session = useSession()
const { data, problem, refresh } = useLiveQuery(
  () => api<TeamTodayView>('/api/team/today/team'),
  { leads: true, colleagues: true, plan: true },
  2000,
)
const clock = setInterval(() => {
  if (document.visibilityState === 'visible') void refresh()
}, 60_000)
onBeforeUnmount(() => clearInterval(clock))

interface Brief {
  id: string
  name: string
  company: string | null
  fit: number
  interest: number
  label: string | null
  owner: string | null
}
/** The figure in hand: which, and its people. */
const chosen = ref<{ key: string; says: string; ids: string[] } | null>(null)
const people = ref<Brief[]>([])
const ticked = ref<string[]>([])
const SHOWN = 50
async function choose(key: string, says: string, ids: string[]): Promise<void> {
  chosen.value = chosen.value?.key === key ? null : { key, says, ids }
  ticked.value = []
  await load()
}
async function load(): Promise<void> {
  const ids = chosen.value?.ids.slice(0, SHOWN) ?? []
  people.value = ids.length ? (await api<{ leads: Brief[] }>('/api/team/leads/brief', { query: { ids: ids.join(',') } })).leads : []
  keepWay({ from: '/', called: 'The team', leads: chosen.value?.ids ?? [] })
}
// What was chosen is the same figure, as it is by now.
watch(data, now => {
  const [kind, id] = chosen.value?.key.split(' ') ?? []
  if (!now || !kind) return
  const row = kind.startsWith('lane') ? now.lanes.find(l => String(l.lane) === id) : now.people.find(p => p.member === id)
  const which = kind.replace('lane-', '') as 'waiting' | 'overdue' | 'late'
  const ids = kind === 'untouched' ? now.untouched : row && (row as unknown as Record<string, string[]>)[which]
  if (ids) {
    chosen.value = { ...chosen.value!, ids }
    void load()
  }
})
const overdue = computed(() => new Set(data.value?.people.flatMap(p => p.overdue) ?? []).size)
const kept = computed(() =>
  (data.value?.lanes ?? []).reduce((sum, l) => ({ kept: sum.kept + l.kept, of: sum.of + l.promises }), { kept: 0, of: 0 }),
)
const over = computed(() => data.value?.people.filter(p => p.mostOpen !== null && p.open > p.mostOpen) ?? [])
function all(): void {
  ticked.value = ticked.value.length ? [] : people.value.map(p => p.id)
}
const openOf = (member: string) => ({ path: '/follow-up', query: { owner: member, status: openStatuses.value } })
const openStatuses = computed(() => house.words!.statuses.filter(s => ['first', 'open'].includes(s.stage)).map(s => s.key))
</script>

<template>
  <div class="team">
    <section class="sums" aria-labelledby="title">
      <h1 id="title">
        {{ overdue ? `${count(overdue, 'person is', 'people are')} past what we promised` : 'All within what we promised' }}
      </h1>
      <p v-if="data" class="faded">
        <template v-if="kept.of">{{ kept.kept }} of {{ kept.of }} promises of the last seven days were kept.</template>
        <template v-else>Nobody was promised anything in the last seven days.</template>
      </p>
      <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
      <ul v-if="data" class="needs">
        <li v-for="p in over" :key="p.member">
          <b>{{ house.memberName(p.member) }}</b> has {{ p.open }} open leads, {{ p.open - p.mostOpen! }} more than they take on.</li>
        <li v-for="o in data.orphans" :key="o.member">
          {{ o.name }} has left; <NuxtLink :to="openOf(o.member)">{{ count(o.open, 'open lead is', 'open leads are') }}</NuxtLink> still
          theirs. <NuxtLink :to="`/route/hand-on?of=${o.member}`">Hand them on</NuxtLink>
        </li>
        <li v-for="a in data.away" :key="a.member">
          <b>{{ house.memberName(a.member) }}</b> is away until {{ due(a.until) }};
          {{ a.standIn ? `${house.memberName(a.standIn)} stands in` : 'nobody stands in' }}.
          <NuxtLink :to="`/route/hand-on?of=${a.member}`">Their open leads</NuxtLink>
        </li>
        <li v-if="data.unowned">
          <NuxtLink :to="{ path: '/follow-up', query: { owner: 'none', status: openStatuses } }">
            {{ count(data.unowned, 'open lead has', 'open leads have') }} no owner</NuxtLink>.</li>
        <li v-if="data.untouched.length">
          <button
            type="button"
            class="link"
            :aria-pressed="chosen?.key === 'untouched'"
            @click="choose('untouched', `Untouched for ${data.untouchedDays} days and more`, data.untouched)"
          >
            {{ count(data.untouched.length, 'lead was', 'leads were') }} not touched</button>
          for {{ data.untouchedDays }} days and more.</li>
      </ul>
      <div v-if="data" class="scroll" tabindex="0" role="region" aria-label="By person">
        <table class="figures">
          <thead>
            <tr>
              <th scope="col">Person</th>
              <th scope="col" class="n">Open</th>
              <th scope="col" class="n">Waiting</th>
              <th scope="col" class="n">Overdue</th>
              <th scope="col" class="n">Late steps</th>
              <th scope="col">Promises kept, seven days</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in data.people" :key="p.member">
              <th scope="row">{{ house.memberName(p.member) }}</th>
              <td class="n">
                <NuxtLink :to="openOf(p.member)">{{ p.open }}</NuxtLink>
                <span v-if="p.mostOpen !== null" class="faded small"> of {{ p.mostOpen }}</span>
              </td>
              <td v-for="which in (['waiting', 'overdue', 'late'] as const)" :key="which" class="n">
                <button
                  v-if="p[which].length"
                  type="button"
                  class="link"
                  :class="{ brick: which !== 'waiting' }"
                  :aria-pressed="chosen?.key === `${which} ${p.member}`"
                  :aria-label="`${p[which].length} ${which}, ${house.memberName(p.member)}`"
                  @click="choose(`${which} ${p.member}`, `${house.memberName(p.member)}: ${which === 'late' ? 'late steps' : which}`, p[which])"
                >
                  {{ p[which].length }}
                </button>
                <span v-else class="faded">0</span>
              </td>
              <td class="rate"><RateBar :value="proportion(p.kept, p.promises)" :hits="p.kept" :trials="p.promises" /></td>
            </tr>
          </tbody>
        </table>
      </div>
      <div v-if="data" class="scroll" tabindex="0" role="region" aria-label="By lane">
        <table class="figures">
          <thead>
            <tr>
              <th scope="col">Lane</th>
              <th scope="col" class="n">Waiting</th>
              <th scope="col" class="n">Overdue</th>
              <th scope="col">Promises kept, seven days</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in data.lanes" :key="String(l.lane)">
              <th scope="row">{{ l.name }}</th>
              <td v-for="which in (['waiting', 'overdue'] as const)" :key="which" class="n">
                <button
                  v-if="l[which].length"
                  type="button"
                  class="link"
                  :class="{ brick: which === 'overdue' }"
                  :aria-pressed="chosen?.key === `lane-${which} ${l.lane}`"
                  :aria-label="`${l[which].length} ${which}, ${l.name}`"
                  @click="choose(`lane-${which} ${l.lane}`, `${l.name}: ${which}`, l[which])"
                >
                  {{ l[which].length }}
                </button>
                <span v-else class="faded">0</span>
              </td>
              <td class="rate"><RateBar :value="proportion(l.kept, l.promises)" :hits="l.kept" :trials="l.promises" /></td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="faded small">A promise is kept when somebody is answered, by a call, a mail, a chat or a meeting, within the working time
        that their label and lane promise. Who waits still counts once the time is over; who was closed without an answer does not
        count.</p>
    </section>
    <section v-if="chosen" class="sheet who" aria-labelledby="who-title">
      <h2 id="who-title">{{ chosen.says }} <span class="faded figures">{{ chosen.ids.length }}</span></h2>
      <LeadBulkBar v-if="session.may('work leads')" :chosen="ticked" :total="ticked.length" :query="{}" @done="ticked = []; refresh()" />
      <Button :label="ticked.length ? 'None' : 'All of them'" size="small" variant="text" @click="all" />
      <ul>
        <li v-for="p in people" :key="p.id">
          <Checkbox v-model="ticked" :value="p.id" :input-id="`who-${p.id}`" :aria-label="p.name" />
          <LeadPin :fit="p.fit" :interest="p.interest" :reasons="[]" />
          <span>
            <NuxtLink :to="`/follow-up/leads/${p.id}`">
              {{ p.name }}
            </NuxtLink> <span class="faded small">
              {{ [p.company, house.labelName(p.label), p.owner].filter(Boolean).join(', ') }}
            </span>
          </span>
        </li>
      </ul>
      <p v-if="chosen.ids.length > people.length" class="faded small">The first {{ people.length }} of {{ chosen.ids.length }}.</p>
    </section>
  </div>
</template>

<style scoped>
.team { display: grid; grid-template-columns: minmax(0, 1fr); gap: 20px; align-items: start; max-width: 1600px; margin: 0 auto; }
.team:has(.who) { grid-template-columns: minmax(0, 3fr) minmax(320px, 2fr); }
.sums { display: grid; gap: 14px; }
.needs { margin: 0; padding: 0; list-style: none; } .needs li { padding: 6px 12px; border-left: 3px solid var(--honey-mark); margin-bottom: 4px; background: var(--sheet); }
th[scope=row] { text-align: left; font-weight: 560; padding: 6px 8px 6px 0; } td { padding: 6px 8px; border-top: 1px solid var(--rule); } tbody th { border-top: 1px solid var(--rule); }
.n { text-align: right; width: 90px; } .rate { min-width: 260px; } th:last-child, td.rate { padding-left: 20px; } tbody th { min-width: 104px; }
.link { all: unset; cursor: pointer; color: var(--spruce); text-decoration: underline; padding: 2px 6px; } .link.brick { color: var(--brick); } .link[aria-pressed=true] { background: var(--wash); } .link:focus-visible { outline: 2px solid var(--spruce); }
.who { padding: 14px 18px; } .who ul { list-style: none; margin: 6px 0 0; padding: 0; } .who li { display: flex; gap: 10px; align-items: center; padding: 6px 0; border-top: 1px solid var(--rule); overflow-wrap: anywhere; }
@media (max-width: 1000px) { .team:has(.who) { grid-template-columns: minmax(0, 1fr); } }
</style>
