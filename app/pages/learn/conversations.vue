<script setup lang="ts">
import { DateTime } from 'luxon'
import { flowLosses, talkFigures, type TalkRow } from '#core/chat/figures'
import { proportion } from '#core/stats/proportion'
import type { PointDefinition } from '#core/points/definition'
import type { PointListing } from '#core/team'

/** How conversations went: when, with whom, how soon, how they were found, and where the flow loses people. */
useHead({ title: 'Conversations – Learn – Cavlin' })
const route = useRoute()
const router = useRouter()
const house = useHouse()
const SPANS = [
  { n: 7, name: 'A week' },
  { n: 30, name: '30 days' },
  { n: 90, name: '90 days' },
  { n: 365, name: 'A year' },
]
const days = computed(() => Number(route.query.days) || 90)
const { data: points } = useLiveQuery(() => api<PointListing[]>('/api/team/points'), { points: true }, 5000)
const chats = computed(() => (points.value ?? []).filter(p => p.kind === 'chat'))
const point = computed(() =>
  typeof route.query.point === 'string' ? route.query.point : (chats.value.find(c => c.liveNumber)?.id ?? chats.value[0]?.id ?? null),
)
const { data, problem, refresh } = useLiveQuery(
  () =>
    point.value
      ? api<{ talks: TalkRow[]; more: boolean }>('/api/team/conversations/figures', { query: { days: days.value, point: point.value } })
      : Promise.resolve({ talks: [], more: false }),
  { conversations: true },
  5000,
)
const definition = shallowRef<PointDefinition | null>(null)
watch([days, point], () => void refresh())
watch(
  point,
  async id => {
    definition.value = id
      ? ((await api<{ live: { definition: PointDefinition } | null; workingCopy: PointDefinition }>(`/api/team/points/${id}`).then(
          p => p.live?.definition ?? p.workingCopy,
        )) ?? null)
      : null
  },
  { immediate: true },
)
const go = (change: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...change } })

const now = useNow(60_000)
const when = (at: number) => {
  const d = DateTime.fromMillis(at, { zone: house.words!.house.zone })
  return { day: d.toISODate()!, hour: d.hour }
}
const f = computed(() => (data.value ? talkFigures(data.value.talks, now.value, when) : null))
const losses = computed(() =>
  data.value && definition.value?.chat ? flowLosses(definition.value.chat.flow, data.value.talks, now.value) : null,
)
const dayList = computed(() => {
  const last = DateTime.fromMillis(now.value, { zone: house.words!.house.zone })
  return Array.from({ length: Math.min(days.value, 120) }, (_, i) => last.minus({ days: Math.min(days.value, 120) - 1 - i }).toISODate()!)
})
const BEGAN: Record<string, string> = {
  tab: 'By the tab',
  greeting: 'By the greeting',
  button: 'By the site’s own button',
  page: 'On its own page',
  member: 'We spoke first',
  mail: 'By mail',
}
const rated = computed(() => f.value!.ratings.reduce((n, ids) => n + ids.length, 0))
const wells = computed(() => f.value!.ratings.slice(3).flat())
const rating = computed(() => (rated.value ? f.value!.ratings.reduce((sum, ids, i) => sum + ids.length * (i + 1), 0) / rated.value : null))

/** Conversations behind a figure, opened below. */
const behind = ref<{ name: string; ids: string[] } | null>(null)
const MOST = 40
const rows = computed(() => {
  const by = new Map((data.value?.talks ?? []).map(t => [t.id, t]))
  return (behind.value?.ids ?? []).slice(0, MOST).flatMap(id => by.get(id) ?? [])
})
function show(name: string, ids: string[]): void {
  behind.value = { name, ids }
  void nextTick(() => document.getElementById('behind')?.focus())
}
const step = ref<string | null>(null)
function showStep(key: string): void {
  step.value = key
  const found = losses.value?.get(key)
  if (found) show(found.left.length ? `left at “${key}”` : `came to “${key}”`, found.left.length ? found.left : found.came)
}
const label = (key: string) => definition.value?.questions.find(q => q.key === key)?.label ?? key
const away = (as: string) =>
  `/api/team/conversations/take-away?${new URLSearchParams({ as, days: String(days.value), ...(point.value && { point: point.value }) })}`
</script>

<template>
  <div class="page">
    <StageViews :views="LEARN_VIEWS" called="Learn" />
    <div class="head">
      <h1>Conversations</h1>
      <Select
        v-if="chats.length > 1"
        :model-value="point"
        :options="chats"
        option-label="name"
        option-value="id"
        aria-label="Chat"
        @update:model-value="go({ point: $event })"
      />
      <div class="spans" role="group" aria-label="Of how long">
        <Button
          v-for="s in SPANS"
          :key="s.n"
          :label="s.name"
          size="small"
          :variant="days === s.n ? 'outlined' : 'text'"
          :aria-pressed="days === s.n"
          @click="go({ days: String(s.n) })"
        />
      </div>
      <p class="small away">Take them away as <a :href="away('csv')" download>CSV</a> or <a :href="away('xlsx')" download>XLSX</a></p>
    </div>
    <p v-if="problem" class="brick" role="alert">{{ problem.message }}</p>
    <p v-if="points && !chats.length" class="sheet empty">No chat yet. Make one under
      <NuxtLink to="/capture/points">Forms, quizzes and chats</NuxtLink>.</p>
    <template v-else-if="f">
      <p v-if="data!.more" class="small honey">There are more than can be counted here; these are the latest.</p>
      <DayChart
        :days="dayList"
        :series="[{ label: 'Handed to a person', role: 'spruce', values: dayList.map(d => (f!.byDay.get(d) ?? []).filter(id => f!.handed.includes(id)).length) }, { label: 'With the flow alone', role: 'rule', values: dayList.map(d => (f!.byDay.get(d) ?? []).filter(id => !f!.handed.includes(id)).length) }]"
        stacked
        :said="`Conversations by day: ${f.all.length} in all, ${f.handed.length} of them handed to a person.`"
      />
      <div class="columns">
        <section aria-label="How they went">
          <h2>How they went</h2>
          <table class="figures">
            <tbody>
              <tr>
                <th scope="row">All</th>
                <td class="n"><button type="button" class="link" @click="show('of all', f.all)">{{ f.all.length }}</button></td>
                <td />
              </tr>
              <tr>
                <th scope="row">Handled by the flow alone</th>
                <td class="n">
                  <button type="button" class="link" @click="show('handled by the flow alone', f.flowAlone)">
                    {{ f.flowAlone.length }}
                  </button>
                </td>
                <td><RateBar :value="proportion(f.flowAlone.length, f.all.length)" :hits="f.flowAlone.length" :trials="f.all.length" /></td>
              </tr>
              <tr>
                <th scope="row">Handed to a person</th>
                <td class="n">
                  <button type="button" class="link" @click="show('handed to a person', f.handed)">{{ f.handed.length }}</button>
                </td>
                <td><RateBar :value="proportion(f.handed.length, f.all.length)" :hits="f.handed.length" :trials="f.all.length" /></td>
              </tr>
              <tr>
                <th scope="row">Answered, of those</th>
                <td class="n">
                  <button type="button" class="link" @click="show('answered by us', f.answered)">{{ f.answered.length }}</button>
                </td>
                <td>
                  <RateBar :value="proportion(f.answered.length, f.handed.length)" :hits="f.answered.length" :trials="f.handed.length" />
                </td>
              </tr>
              <tr>
                <th scope="row">Promise kept</th>
                <td class="n">
                  <button type="button" class="link" @click="show('in which the promise was kept', f.kept)">{{ f.kept.length }}</button>
                </td>
                <td><RateBar :value="proportion(f.kept.length, f.promised.length)" :hits="f.kept.length" :trials="f.promised.length" /></td>
              </tr>
              <tr>
                <th scope="row">First answer, median</th>
                <td class="n">{{ f.firstReply === null ? '–' : duration(f.firstReply * 60) }}</td>
                <td class="small faded">from asking for a person, day and night</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section aria-label="How they were found">
          <h2>How they were found</h2>
          <table class="figures">
            <tbody>
              <tr v-for="(ids, i) in f.ratings" :key="i">
                <th scope="row">{{ RATINGS[i] }}</th>
                <td class="n">
                  <button type="button" class="link" @click="show(`found ${RATINGS[i]!.toLowerCase()}`, ids)">{{ ids.length }}</button>
                </td>
              </tr>
              <tr>
                <th scope="row">Good or better</th>
                <td class="n">
                  <button type="button" class="link" @click="show('found good or better', wells)">{{ wells.length }}</button>
                </td>
                <td><RateBar :value="proportion(wells.length, rated)" :hits="wells.length" :trials="rated" /></td>
              </tr>
            </tbody>
          </table>
          <p class="small faded">
            {{ rated }} of {{ f.all.length }} rated{{ rating === null ? '' : `, ${rating.toFixed(1)} of 5 in the mean` }}. Who rates is not
            everybody: the bar is where the rate of those who do lies in 19 of 20 such samples.</p>
        </section>
        <section aria-label="With whom, and how they began">
          <h2>With whom</h2>
          <table class="figures">
            <tbody>
              <tr v-for="[id, ids] in f.byMember" :key="id">
                <th scope="row">{{ house.memberName(id) }}</th>
                <td class="n">
                  <button type="button" class="link" @click="show(`with ${house.memberName(id)}`, ids)">{{ ids.length }}</button>
                </td>
              </tr>
            </tbody>
          </table>
          <h2>How they began</h2>
          <table class="figures">
            <tbody>
              <tr v-for="[by, ids] in f.byBegan" :key="by">
                <th scope="row">{{ BEGAN[by] ?? by }}</th>
                <td class="n">
                  <button type="button" class="link" @click="show((BEGAN[by] ?? by).toLowerCase(), ids)">{{ ids.length }}</button>
                </td>
              </tr>
            </tbody>
          </table>
        </section>
      </div>
      <section aria-label="At which hour">
        <h2>At which hour</h2>
        <div class="hours">
          <button
            v-for="(ids, h) in f.byHour"
            :key="h"
            type="button"
            :disabled="!ids.length"
            :aria-label="`${h}:00, ${count(ids.length, 'conversation', 'conversations')}`"
            @click="show(`begun between ${h}:00 and ${h + 1}:00`, ids)"
          >
            <i :style="{ height: `${Math.round((46 * ids.length) / Math.max(1, ...f.byHour.map(x => x.length)))}px` }" />
            <span class="small figures">{{ h }}</span>
          </button>
        </div>
      </section>
      <section v-if="definition?.chat && losses" aria-label="Where the flow loses people">
        <h2>Where the flow loses people</h2>
        <p class="small faded">By the steps of the live edition; a step that is pressed opens who left there, or who came.</p>
        <ChatFlowGraph
          :flow="definition.chat.flow"
          :label-of="label"
          :chosen="step"
          :way="null"
          :counts="losses"
          disabled
          @choose="showStep"
        />
      </section>
      <section v-if="behind" id="behind" class="sheet behind" tabindex="-1" :aria-label="`Conversations ${behind.name}`">
        <h2>{{ count(behind.ids.length, 'conversation', 'conversations') }} {{ behind.name }}</h2>
        <ul>
          <li v-for="t in rows" :key="t.id">
            <NuxtLink :to="{ path: '/follow-up/conversations', query: { of: t.id } }">
              {{ ago(new Date(t.began).toISOString()) }}
            </NuxtLink> <span class="small faded">
              {{ BEGAN[t.by]?.toLowerCase() }}{{ t.member ? `, with ${house.memberName(t.member)}` : '' }}{{ t.rating ? `, ${RATINGS[t.rating - 1]!.toLowerCase()}` : '' }}
            </span>
          </li>
        </ul>
        <p v-if="behind.ids.length > MOST" class="small faded">The latest {{ MOST }}; all are in the file.</p>
      </section>
    </template>
  </div>
</template>

<style scoped>
.page { max-width: 1180px; margin: 0 auto; }
.head { display: flex; flex-wrap: wrap; gap: 6px 16px; align-items: center; } .spans { display: flex; gap: 4px; } .away { margin: 0 0 0 auto; }
.columns { display: grid; grid-template-columns: 1.5fr 1.2fr 1fr; gap: 26px; align-items: start; }
section { margin-top: 18px; } h2 { font-size: 16px; line-height: 24px; }
table { width: 100%; } th { text-align: start; font-weight: 400; } th, td { padding: 5px 10px 5px 0; border-bottom: 1px solid var(--rule); } .n { text-align: end; white-space: nowrap; } table + h2 { margin-top: 18px; }
.link { padding: 0 2px; border: 0; background: none; font: inherit; color: var(--spruce); text-decoration: underline; cursor: pointer; min-width: 24px; min-height: 24px; }
.hours { display: grid; grid-template-columns: repeat(24, minmax(0, 1fr)); gap: 2px; align-items: end; }
.hours button { display: flex; flex-direction: column; justify-content: end; align-items: center; min-height: 70px; min-width: 0; padding: 0; border: 0; background: none; color: var(--faded); cursor: pointer; } .hours button:disabled { cursor: default; }
.hours i { display: block; width: 100%; background: var(--slate); }
.behind { padding: 12px 16px; } .behind ul { list-style: none; margin: 4px 0 0; padding: 0; columns: 2 320px; } .behind li { padding: 2px 0; }
.empty { padding: 14px 18px; }
@media (max-width: 900px) { .columns { grid-template-columns: minmax(0, 1fr); } .hours span { font-size: 9px; } }
</style>
