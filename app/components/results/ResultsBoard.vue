<script setup lang="ts">
import { DateTime } from 'luxon'
import type { PointDefinition } from '#core/points/definition'
import type { ResultsView } from '#core/team'
import { madeOf } from '#core/results/of-quiz'
import type { Group } from './GroupPick.vue'

/** What came of a form or a page: how far people came, what they answered, who they are; of one group, or of two side by side. */
const props = defineProps<{ id: string; back: { path: string; name: string }; storyboard: string }>()
const route = useRoute()
const router = useRouter()
const SPANS = [
  { n: 7, name: '7 days' },
  { n: 30, name: '30 days' },
  { n: 90, name: '90 days' },
  { n: 365, name: 'A year' },
]
const today = () => DateTime.now().toISODate()
const ago = (n: number) =>
  DateTime.now()
    .minus({ days: n - 1 })
    .toISODate()

/** The days stand in the address, so that they can be sent to a colleague. */
const DAY = /^\d{4}-\d{2}-\d{2}$/
const ofAddress = (name: string, usual: string) => (DAY.test(String(route.query[name] ?? '')) ? String(route.query[name]) : usual)
const first = ref<Group>({
  from: ofAddress('from', ago(30)),
  to: ofAddress('to', today()),
  edition: Number(route.query.edition) || null,
  condition: null,
})
const second = ref<Group | null>(null)
watch(first, ({ from, to, edition }) => void router.replace({ query: { from, to, ...(edition && { edition }) } }))
const groups = computed(() => (second.value ? [first.value, second.value] : [first.value]))

const live = ref(0)
const { data, problem, refresh } = useLiveQuery(
  async () => {
    const came = await api<ResultsView>(`/api/team/points/${props.id}/results`, { method: 'POST', body: { groups: groups.value } })
    live.value++
    return came
  },
  { leads: true, trail: true, points: true },
  3000,
)
let timer: ReturnType<typeof setTimeout> | undefined
watch(
  groups,
  () => {
    clearTimeout(timer)
    timer = setTimeout(() => void refresh(), 150)
  },
  { deep: true },
)
onScopeDispose(() => clearTimeout(timer))
useHead({ title: () => `${data.value?.name ?? ''} results – Cavlin` })

const isForm = computed(() => data.value !== null && data.value?.kind !== 'page')
const questions = computed(() => {
  if (!isForm.value) return []
  const { quiz, questions } = data.value!.definition as PointDefinition
  return quiz ? [...madeOf([quiz]), ...questions] : questions
})
/** An answer may have been counted for one group while the other was already asked for. */
const shown = computed(() => (data.value?.groups ?? []).slice(0, groups.value.length))
const one = computed(() => shown.value[0]!)
const named = computed(() => shown.value.map((results, i) => ({ name: i ? 'the second group' : 'the first group', results })))
function compare(): void {
  const [from, to] = [DateTime.fromISO(first.value.from), DateTime.fromISO(first.value.to)]
  const length = to.diff(from, 'days').days + 1
  second.value = {
    from: from.minus({ days: length }).toISODate()!,
    to: from.minus({ days: 1 }).toISODate()!,
    edition: first.value.edition,
    condition: null,
  }
}
const picked = ref<{ question: string; value: string; text: string } | null>(null)
function pick(question: string, value: string, text: string): void {
  picked.value = { question, value, text }
  void nextTick(() => document.getElementById('who-answered')?.scrollIntoView({ block: 'start' }))
}
const away = (as: string) =>
  `/api/team/points/${props.id}/take-away?${new URLSearchParams({
    as,
    from: first.value.from,
    to: first.value.to,
    ...(first.value.edition && { edition: String(first.value.edition) }),
    ...(first.value.condition && { condition: JSON.stringify(first.value.condition) }),
    ...(second.value && { second: JSON.stringify(second.value) }),
  })}`
const chart = computed(() => [
  ...(one.value.looks
    ? [
        { label: 'Seen', role: 'rule', values: one.value.days.map(d => d.seen) },
        { label: 'Begun', role: 'slate', values: one.value.days.map(d => d.begun) },
      ]
    : []),
  ...(isNameless.value ? [{ label: 'Finished', role: 'honey-mark', values: one.value.days.map(d => d.sent + d.nameless) }] : []),
  { label: isNameless.value ? 'Left an address' : 'Sent', role: 'spruce', values: one.value.days.map(d => d.sent) },
])
/** Some finished without saying who they are. */
const isNameless = computed(() => shown.value.some(g => g.all.nameless > 0))
const said = computed(
  () => `By day: ${one.value.all.seen} saw it, ${one.value.all.begun} began, ${one.value.all.sent + one.value.all.nameless} finished it.`,
)
const minutes = (ms: number) => (ms < 90_000 ? `${Math.round(ms / 1000)} s` : `${Math.round(ms / 60_000)} minutes`)
const pageName = (page: string) => page.replace(/^https?:\/\//, '') || 'no page told'
</script>

<template>
  <div class="page wide">
    <header class="head">
      <p class="ways">
        <NuxtLink :to="back.path">{{ back.name }}</NuxtLink>
        <NuxtLink :to="storyboard">Storyboard</NuxtLink>
      </p>
      <h1>{{ data?.name ?? '' }} <span class="faded">results</span></h1>
      <p class="away"><a :href="away('csv')" download>Take away as CSV</a><a :href="away('xlsx')" download>as XLSX</a></p>
    </header>
    <div class="of">
      <div role="group" aria-label="Of how long">
        <Button
          v-for="s in SPANS"
          :key="s.n"
          :label="s.name"
          size="small"
          :variant="first.from === ago(s.n) && first.to === today() ? 'outlined' : 'text'"
          :aria-pressed="first.from === ago(s.n) && first.to === today()"
          @click="first = { ...first, from: ago(s.n), to: today() }"
        />
      </div>
      <ResultsGroupPick v-model="first" :editions="data?.editions ?? []" :called="second ? 'First group' : 'Of whom'" />
      <Button v-if="!second" label="Compare with …" size="small" variant="text" @click="compare" />
    </div>
    <div v-if="second" class="of second">
      <span class="mark" aria-hidden="true" />
      <ResultsGroupPick v-model="second" :editions="data?.editions ?? []" called="Second group" />
      <Button label="One group" size="small" variant="text" @click="second = null" />
    </div>
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <template v-if="data && one">
      <p v-if="shown.some(g => g.behind)" class="banner" role="status">
        Much has happened at once: figures are some time behind, and catch up by themselves.
      </p>
      <div v-for="(results, i) in shown" :key="i" class="strip">
        <h2 v-if="second">{{ i ? 'Second group' : 'First group' }}</h2>
        <ResultsStrip
          :kind="data.kind"
          :definition="data.definition"
          :slug="data.slug"
          :results="results"
          :called="`How far people came${second ? `, ${i ? 'second' : 'first'} group` : ''}`"
        />
        <p v-if="results.medianMs !== null" class="small faded">Half of them took no longer than {{ minutes(results.medianMs) }}.</p>
      </div>
      <section v-if="!second" aria-labelledby="by-day">
        <h2 id="by-day">Day by day</h2>
        <DayChart :days="one.days.map(d => d.day)" :series="chart" :said="said" />
      </section>

      <div class="two">
        <section aria-labelledby="by-page">
          <h2 id="by-page">Page by page</h2>
          <ResultsPassingTable
            of="Page"
            called="Pages, a table"
            :looks="one.looks"
            :nameless="isNameless"
            :rows="one.pages.slice(0, 30).map(p => ({ ...p, name: pageName(p.page) }))"
          />
        </section>
        <section v-if="isForm" aria-labelledby="by-edition">
          <h2 id="by-edition">Edition by edition</h2>
          <ResultsPassingTable
            of="Edition"
            called="Editions, a table"
            :looks="one.looks"
            :nameless="isNameless"
            :rows="one.editions.map(e => ({ ...e, name: String(e.edition) }))"
          />
        </section>
      </div>

      <section v-if="isForm && one.stops.length" aria-labelledby="stops">
        <h2 id="stops">Where they stopped</h2>
        <ResultsStopsTable :definition="data.definition as PointDefinition" :stops="one.stops" />
      </section>

      <section v-if="isForm" aria-labelledby="answers">
        <h2 id="answers">What they answered</h2>
        <p v-if="isNameless" class="small faded">
          With the answers of those who did not say who they are, as far as they could be chosen. They are nobody, and stand in no list.
        </p>
        <ResultsAnswerBars :groups="named" pickable @pick="pick" />
      </section>

      <section v-if="isForm" aria-labelledby="ends">
        <h2 id="ends">What became of them<template v-if="second">, first group</template></h2>
        <ResultsEndsTable :id="id" :group="first" :live="live" @pick="pick" />
      </section>

      <section id="who-answered" aria-labelledby="respondents">
        <div class="row">
          <h2 id="respondents">Who answered<template v-if="second">, first group</template></h2>
          <span v-if="picked" class="only">only “{{ picked.text }}” <Button label="All" size="small" variant="text" @click="picked = null" /></span>
        </div>
        <ResultsRespondentTable
          :id="id"
          :group="first"
          :questions="questions"
          :answer="picked && { question: picked.question, value: picked.value }"
          :live="live"
        />
      </section>
    </template>
    <p v-else-if="!problem" class="faded" role="status">Counting …</p>
  </div>
</template>

<style scoped>
.wide {
  max-width: 1400px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 24px;
  align-items: end;
  padding-bottom: 6px;
  border-bottom: 1px solid var(--rule);
}
.ways {
  flex-basis: 100%;
  margin: 0;
}
.ways a {
  margin-right: 16px;
}
.head h1 {
  flex: 1;
  overflow-wrap: anywhere;
}
.away {
  margin: 0;
}
.away a {
  margin-left: 14px;
}
.of {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  padding: 8px 0;
}
.second {
  padding-top: 0;
}
.mark {
  width: 12px;
  height: 12px;
  background: var(--slate);
}
.strip {
  padding: 8px 0 4px;
}
section {
  margin-top: 24px;
}
.two section {
  margin-top: 24px;
  min-width: 0;
}
td,
th {
  padding: 6px 14px 6px 0;
  border-bottom: 1px solid var(--rule);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
}
.only {
  overflow-wrap: anywhere;
}
.banner {
  padding: 8px 12px;
  border-left: 3px solid var(--honey-mark);
  background: var(--sheet);
}
</style>
