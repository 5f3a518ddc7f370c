<script setup lang="ts">
import type { TodayLead, TodayView } from '#core/team'

useHead({ title: 'Today – Cavlin' })
const session = useSession()
const route = useRoute()
const router = useRouter()
/** Meetings that are so near, or have just begun, stand above all else. */
const NEAR_MS = 30 * 60_000
const isNear = (lead: TodayLead) =>
  lead.nextStep !== null &&
  ['meeting', 'visit'].includes(lead.nextStep.kind) &&
  Math.abs(Date.parse(lead.nextStep.due) - Date.now()) < NEAR_MS
const listed = ref<TodayLead[]>([])
const pressing = ref<TodayLead[]>([])
const later = ref<TodayLead[]>([])
const { data, problem, refresh } = useLiveQuery(
  async () => {
    const today = await api<TodayView>('/api/team/today')
    const isNow = (lead: TodayLead) => lead.loss > 0 || isNear(lead)
    pressing.value = [...today.waiting, ...today.due.filter(isNow)].sort((a, b) => Number(isNear(b)) - Number(isNear(a)) || b.loss - a.loss)
    later.value = today.due.filter(lead => !isNow(lead))
    listed.value = [...pressing.value, ...later.value]
    keepWay({ from: '/', called: 'Today', leads: listed.value.map(l => l.id) })
    return today
  },
  () => ({ leads: listed.value.map(l => l.id), notices: true }),
)
// What nobody does changes too: promises run out, steps fall due.
const clock = setInterval(() => {
  if (document.visibilityState === 'visible') void refresh()
}, 30_000)
onBeforeUnmount(() => clearInterval(clock))
const now = useNow()
/** For who manages, Today is the team. */
const team = computed(
  () => session.may('edit plan') && (route.query.of ? route.query.of === 'team' : session.me!.role === 'manager' && !route.query.lead),
)
/** Who works no leads has their forms and pages here instead. */
const alone = computed(() => data.value !== null && !listed.value.length && !session.may('work leads') && session.may('edit points'))
const steps = computed(() => (data.value ? pressing.value.length - data.value.waiting.length : 0))
const overdue = computed(() => data.value?.waiting.filter(l => l.urgency!.state === 'overdue').length ?? 0)

// The one in hand stays in hand when the list changes around it.
const chosen = computed(() => (route.query.lead as string | undefined) ?? (wide.value ? first.value : undefined))
const first = ref<string>()
const wide = useWide(1000)
watch(listed, leads => {
  first.value ??= leads[0]?.id
})
const choose = (id: string) => router.replace({ query: { ...(route.query.of && { of: route.query.of }), lead: id } })
const linkOf = (id: string) => document.querySelector<HTMLElement>(`#today-${CSS.escape(id)} a`)
/** Where the one in hand stood, so that the next one is next when it has gone. */
const place = ref(0)
watch([chosen, listed], () => {
  const at = listed.value.findIndex(l => l.id === chosen.value)
  if (at >= 0) place.value = at
})
function step(by: number): void {
  const at = listed.value.findIndex(l => l.id === chosen.value)
  // Who was answered is on the list no more: the one that came into their place is the next.
  const to = at >= 0 ? at + by : by > 0 ? place.value : place.value - 1
  const next = listed.value[Math.min(listed.value.length - 1, Math.max(0, to))]
  if (next) void choose(next.id).then(() => nextTick(() => linkOf(next.id)?.focus()))
}
useKeys({
  j: () => step(1),
  k: () => step(-1),
  Enter: () => {
    if (chosen.value) void router.push(`/follow-up/leads/${chosen.value}`)
  },
})
const opened = (id: string) => (wide.value ? { query: { lead: id } } : `/follow-up/leads/${id}`)
</script>

<template>
  <div>
    <nav v-if="session.may('edit plan')" class="whose" aria-label="Whose day">
      <NuxtLink :to="{ query: { of: 'team' } }" :aria-current="team ? 'page' : undefined">The team</NuxtLink>
      <NuxtLink :to="{ query: { of: 'me' } }" :aria-current="team ? undefined : 'page'">My own leads</NuxtLink>
    </nav>
    <LazyTeamToday v-if="team" />
    <div v-else class="today" :class="{ alone }">
    <section class="list" aria-labelledby="title">
      <h1 id="title">
        {{ alone ? 'Your forms and pages today' : !data ? 'Today' : data.waiting.length ? `${count(data.waiting.length, 'person is', 'people are')} waiting` : 'Nobody is waiting' }}
      </h1>
      <p class="faded">
        <template v-if="overdue">{{ count(overdue, 'is', 'are') }} past what we promised. </template>
        <template v-else-if="data?.waiting.length">All within what we promised. </template>
        <template v-if="steps">{{ count(steps, 'next step is', 'next steps are') }} late or near. </template>
        <template v-if="pressing.length">Who loses most by waiting stands first. </template>
        <template v-else-if="data && session.may('work leads')">Whoever is routed to you appears here at once.</template>
      </p>
      <p v-if="data" class="beside">
        <WaitingCostWhy v-if="pressing.length" :cost="data.cost" :lead="pressing.find(l => l.id === chosen) ?? pressing[0]!" />
        <NuxtLink v-if="data.review" to="/qualify/review">{{ count(data.review, 'entry waits', 'entries wait') }} to be let in</NuxtLink>
      </p>
      <p v-if="problem && !data" role="alert" class="problem">{{ problem.message }}</p>
      <ul v-if="pressing.length" class="rows">
        <TodayRow
          v-for="lead in pressing"
          :id="`today-${lead.id}`"
          :key="lead.id"
          :lead="lead"
          :to="opened(lead.id)"
          :chosen="lead.id === chosen"
          :replace="wide"
          :now="now"
          :step="!lead.urgency"
        />
      </ul>
      <template v-if="later.length">
        <h2>Next steps until tonight</h2>
        <ul class="rows">
          <TodayRow
            v-for="lead in later"
            :id="`today-${lead.id}`"
            :key="lead.id"
            :lead="lead"
            :to="opened(lead.id)"
            :chosen="lead.id === chosen"
            :replace="wide"
            :now="now"
            step
          />
        </ul>
      </template>
    </section>
    <PointsToday v-if="!wide && session.may('edit points')" class="sheet points" />
    <section v-if="wide" class="hand sheet" aria-label="In hand">
      <LazyLeadDetail v-if="chosen" :id="chosen" :key="chosen" />
      <PointsToday v-else-if="session.may('edit points')" class="points" />
      <div v-else-if="data" class="empty">
        <h2>A clear desk</h2>
        <p class="faded">Look through <NuxtLink to="/follow-up">all leads</NuxtLink>, or see
          <NuxtLink to="/learn">which forms bring people worth calling</NuxtLink>.</p>
      </div>
    </section>
  </div>
  </div>
</template>

<style scoped>
.whose { display: flex; gap: 2px 20px; margin-bottom: 12px; font-size: 14px; line-height: 20px; }
.whose a { color: var(--faded); text-decoration: none; padding: 2px 0; border-bottom: 2px solid transparent; } .whose a[aria-current] { color: var(--ink); border-bottom-color: var(--spruce); }
.today { display: grid; grid-template-columns: minmax(340px, 400px) minmax(0, 1fr); gap: 20px; align-items: start; max-width: 1600px; margin: 0 auto; }
.alone { grid-template-columns: minmax(0, 860px); justify-content: start; }
.points { padding: 18px 22px; }
.beside { display: flex; flex-wrap: wrap; gap: 2px 16px; align-items: baseline; }
.rows { list-style: none; margin: 12px 0 0; padding: 0; }
h2 { margin-top: 22px; }
.problem { color: var(--brick); margin-top: 10px; }
.hand { padding: 18px 20px; min-height: 60vh; }
.empty { padding: 60px 20px; text-align: center; }
@media (max-width: 999px) { .today { grid-template-columns: 1fr; } }
</style>
