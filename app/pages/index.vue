<script setup lang="ts">
import type { LeadView } from '#core/team'

useHead({ title: 'Today – Cavlin' })
const house = useHouse()
const session = useSession()
const route = useRoute()
const router = useRouter()
const listed = ref<LeadView[]>([])
const { data, problem } = useLiveQuery(async () => {
  const today = await api<{ waiting: LeadView[]; due: LeadView[] }>('/api/team/today')
  listed.value = [...today.waiting, ...today.due]
  return today
}, () => ({ leads: listed.value.map(l => l.id), notices: true }))
/** Who works no leads has their forms and pages here instead. */
const alone = computed(() => data.value !== null && !listed.value.length && !session.may('work leads') && session.may('edit points'))
const overdue = computed(() => data.value?.waiting.filter(l => l.urgency!.state === 'overdue').length ?? 0)

// The one in hand stays in hand when the list changes around it.
const chosen = computed(() => (route.query.lead as string | undefined) ?? (wide.value ? first.value : undefined))
const first = ref<string>()
const wide = ref(false)
watch(listed, (leads) => { first.value ??= leads[0]?.id })
onMounted(() => {
  const query = window.matchMedia('(min-width: 1000px)')
  const look = () => { wide.value = query.matches }
  look()
  query.addEventListener('change', look)
  onScopeDispose(() => query.removeEventListener('change', look))
})
const choose = (id: string) => router.replace({ query: { lead: id } })
function step(by: number): void {
  const at = listed.value.findIndex(l => l.id === chosen.value)
  const next = listed.value[Math.min(listed.value.length - 1, Math.max(0, at + by))]
  if (next) void choose(next.id).then(() => document.getElementById(`today-${next.id}`)?.scrollIntoView({ block: 'nearest' }))
}
useKeys({ j: () => step(1), k: () => step(-1), Enter: () => { if (chosen.value) void router.push(`/follow-up/leads/${chosen.value}`) } })
</script>

<template>
  <div class="today" :class="{ alone }">
    <section class="list" aria-labelledby="title">
      <h1 id="title">{{ alone ? 'Your forms and pages today' : data?.waiting.length ? `${count(data.waiting.length, 'person is', 'people are')} waiting` : 'Nobody is waiting' }}</h1>
      <p class="faded">
        <template v-if="overdue">{{ count(overdue, 'is', 'are') }} past what we promised. The most pressing stands first.</template>
        <template v-else-if="data?.waiting.length">All within what we promised. The most pressing stands first.</template>
        <template v-else-if="data && session.may('work leads')">Whoever is routed to you appears here at once.</template>
      </p>
      <p v-if="problem && !data" role="alert" class="problem">{{ problem.message }}</p>
      <ul v-if="data?.waiting.length" class="rows">
        <li v-for="lead in data.waiting" :id="`today-${lead.id}`" :key="lead.id" :class="{ chosen: lead.id === chosen }">
          <LeadPin :fit="lead.fit" :interest="lead.interest" :reasons="lead.reasons" />
          <NuxtLink :to="wide ? { query: { lead: lead.id } } : `/follow-up/leads/${lead.id}`" :replace="wide" :aria-current="lead.id === chosen ? 'true' : undefined">
            <span class="name">{{ lead.name }}</span><span v-if="lead.company" class="faded">{{ lead.company }}</span>
          </NuxtLink>
          <div class="second"><LabelMark :label="lead.label" class="small" /><WaitingMark :urgency="lead.urgency!" /></div>
        </li>
      </ul>
      <template v-if="data?.due.length">
        <h2>Next steps until tonight</h2>
        <ul class="rows">
          <li v-for="lead in data.due" :id="`today-${lead.id}`" :key="lead.id" :class="{ chosen: lead.id === chosen }">
            <LeadPin :fit="lead.fit" :interest="lead.interest" :reasons="lead.reasons" />
            <NuxtLink :to="wide ? { query: { lead: lead.id } } : `/follow-up/leads/${lead.id}`" :replace="wide" :aria-current="lead.id === chosen ? 'true' : undefined">
              <span class="name">{{ lead.nextStep!.text }}</span><span class="faded"> {{ lead.name }}</span>
            </NuxtLink>
            <div class="second small"><span class="faded">{{ house.statusName(lead.status) }}</span><span :class="Date.parse(lead.nextStep!.due) < Date.now() ? 'late' : 'faded'">{{ Date.parse(lead.nextStep!.due) < Date.now() ? 'Late, ' : '' }}{{ due(lead.nextStep!.due) }}</span></div>
          </li>
        </ul>
      </template>
    </section>
    <PointsToday v-if="!wide && session.may('edit points')" class="sheet points" />
    <section v-if="wide" class="hand sheet" aria-label="In hand">
      <LazyLeadDetail v-if="chosen" :id="chosen" :key="chosen" />
      <PointsToday v-else-if="session.may('edit points')" class="points" />
      <div v-else-if="data" class="empty"><h2>A clear desk</h2><p class="faded">Look through <NuxtLink to="/follow-up">all leads</NuxtLink>, or see <NuxtLink to="/learn">which forms bring people worth calling</NuxtLink>.</p></div>
    </section>
  </div>
</template>

<style scoped>
.today { display: grid; grid-template-columns: minmax(340px, 400px) minmax(0, 1fr); gap: 20px; align-items: start; max-width: 1600px; margin: 0 auto; }
.alone { grid-template-columns: minmax(0, 860px); justify-content: start; }
.points { padding: 18px 22px; }
.rows { list-style: none; margin: 12px 0 0; padding: 0; }
.rows li { display: grid; grid-template-columns: 16px 1fr; gap: 0 10px; padding: 8px 10px; border-top: 1px solid var(--rule); position: relative; }
.rows li:has(a:hover) { background: color-mix(in srgb, var(--wash) 50%, transparent); }
.rows a { color: inherit; text-decoration: none; overflow-wrap: anywhere; }
.rows a::after { content: ''; position: absolute; inset: 0; }
.rows :deep(.pin) { position: relative; z-index: 1; margin-top: 3px; }
.name { font-weight: 600; margin-right: 0.4em; }
.chosen { background: var(--wash); box-shadow: inset 3px 0 var(--spruce); }
.second { grid-column: 2; display: flex; flex-wrap: wrap; justify-content: space-between; gap: 0 12px; }
.second :deep(.label) { font-size: 13px; line-height: 18px; }
h2 { margin-top: 22px; }
.late { color: var(--brick); }
.problem { color: var(--brick); margin-top: 10px; }
.hand { padding: 18px 20px; min-height: 60vh; }
.empty { padding: 60px 20px; text-align: center; }
@media (max-width: 999px) { .today { grid-template-columns: 1fr; } }
</style>
