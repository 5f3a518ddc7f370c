<script setup lang="ts">
import { Check, TriangleAlert } from 'lucide-vue-next'
import { HEAPS, KIND_WORDS, type DeliveriesView, type DeliveryView, type Heap } from '#core/deliveries/delivery'
import { howItGoes, HEAP_WORDS, standing } from '~/utils/deliveries'

useHead({ title: 'Deliveries – Cavlin' })
const session = useSession()
const say = useToasts()
const route = useRoute()
const heap = computed<Heap>(() => HEAPS.find(h => h === route.query.heap) ?? 'held up')

const {
  data: view,
  problem,
  refresh,
} = useLiveQuery(() => api<DeliveriesView>('/api/team/deliveries', { query: { heap: heap.value } }), { deliveries: true }, 1000)
/** What was fetched beyond the first page. */
const further = ref<{ rows: DeliveryView[]; more: string | null } | null>(null)
watch(heap, async () => {
  further.value = null
  await refresh()
})
const rows = computed(() => [...(view.value?.deliveries ?? []), ...(further.value?.rows ?? [])])
const more = computed(() => (further.value ? further.value.more : (view.value?.more ?? null)))
const now = useNow()
const sentences = computed(() => (view.value ? howItGoes(view.value, now.value) : []))
const failedTasks = computed(() => view.value?.tasks.filter(t => t.problem) ?? [])

async function fetchMore(): Promise<void> {
  try {
    const next = await api<DeliveriesView>('/api/team/deliveries', { query: { heap: heap.value, behind: more.value } })
    const known = new Set(rows.value.map(d => d.id))
    further.value = { rows: [...(further.value?.rows ?? []), ...next.deliveries.filter(d => !known.has(d.id))], more: next.more }
  } catch (error) {
    say.failed(error)
  }
}
async function again(d: DeliveryView): Promise<void> {
  try {
    await api(`/api/team/deliveries/${d.id}/again`, { method: 'POST' })
    say.done(`“${d.subject}” is tried again.`)
  } catch (error) {
    say.failed(error)
  }
  further.value = null
  await refresh()
}
async function allAgain(): Promise<void> {
  try {
    const { tried } = await api<{ tried: number }>('/api/team/deliveries/again', { method: 'POST' })
    say.done(`${count(tried, 'delivery is', 'deliveries are')} tried again.`)
  } catch (error) {
    say.failed(error)
  }
  further.value = null
  await refresh()
}
const figure = (h: Heap) => (view.value ? view.value.counts[h].toLocaleString('en-GB') : '')
const mayTry = (d: DeliveryView) => d.state === 'held up' || d.state === 'given up'
</script>

<template>
  <div class="page">
    <h1>Deliveries</h1>
    <p class="faded">All that leaves the house: what owners are told, mails to visitors, reminders, test mails.</p>
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <template v-if="session.may('manage deliveries') && view">
      <ul class="how" aria-label="How it goes">
        <li v-for="s in sentences" :key="s.text" :class="{ bad: s.bad }">
          <component :is="s.bad ? TriangleAlert : Check" :size="15" aria-hidden="true" />{{ s.text }}
        </li>
        <li v-for="t in failedTasks" :key="t.name" class="bad">
          <TriangleAlert :size="15" aria-hidden="true" />{{ t.name }}: failed {{ ago(t.at!, now) }}, “{{ t.problem }}”. It is tried again
          within the hour.</li>
      </ul>
      <nav class="heaps" aria-label="Heaps">
        <NuxtLink
          v-for="h in HEAPS"
          :key="h"
          :to="{ query: h === 'held up' ? {} : { heap: h } }"
          :aria-current="h === heap ? 'page' : undefined"
          :class="view.counts[h] > 0 && { 'held up': 'soon', 'given up': 'bad' }[h as string]"
        ><b>{{ figure(h) }}</b>{{ HEAP_WORDS[h].name.toLowerCase() }}<span v-if="h === 'sent'" class="small"> in 24 hours</span></NuxtLink>
      </nav>
      <div v-if="heap === 'given up' && view.counts['given up'] > 0">
        <Button label="Try all of these again" size="small" variant="outlined" @click="allAgain" />
      </div>
      <p v-if="!rows.length" class="sheet empty faded">{{ HEAP_WORDS[heap].nothing }}</p>
      <table v-else class="figures">
        <thead>
          <tr><th>Written</th><th>To</th><th>What</th><th>How it stands</th><th><span class="unseen">What to do</span></th></tr>
        </thead>
        <tbody>
          <tr v-for="d in rows" :key="d.id">
            <td class="when"><time :datetime="d.at">{{ ago(d.at, now) }}</time></td>
            <td class="to">
              <template v-if="d.recipientName">{{ d.recipientName }}<br></template>
              <span :class="{ 'faded small': d.recipientName }">{{ d.recipient }}</span>
            </td>
            <td>
              <NuxtLink v-if="d.leadId" :to="`/follow-up/leads/${d.leadId}`">{{ d.subject }}</NuxtLink>
              <template v-else>{{ d.subject }}</template>
              <br>
              <span class="faded small">{{ KIND_WORDS[d.kind] }}</span>
            </td>
            <td class="why" :class="{ bad: standing(d, now).bad }">{{ standing(d, now).text }}</td>
            <td class="n">
              <Button
                v-if="mayTry(d)"
                label="Try again"
                :aria-label="`Try again: “${d.subject}” to ${d.recipient}`"
                variant="text"
                size="small"
                @click="again(d)"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <div v-if="more"><Button label="Show older ones" variant="outlined" size="small" @click="fetchMore" /></div>
      <details class="tasks">
        <summary>What is done by the clock, every hour</summary>
        <ul class="plain">
          <li v-for="t in view.tasks" :key="t.name">
            {{ t.name }}<span class="faded">,
              {{ t.at ? `last ${ago(t.at, now)}` : 'not yet' }}{{ t.problem ? `, failed: “${t.problem}”` : '' }}
            </span>
          </li>
        </ul>
      </details>
    </template>
  </div>
</template>

<style scoped>
.page { max-width: 1180px; margin: 0 auto; display: grid; gap: 14px; }
.how { list-style: none; margin: 0; padding: 10px 0; border-block: 1px solid var(--rule); display: grid; gap: 4px; }
.how svg { margin-right: 8px; color: var(--spruce); vertical-align: -2px; }
.bad { color: var(--brick); }
.how .bad svg { color: inherit; }
.heaps { display: flex; flex-wrap: wrap; gap: 4px 26px; }
.heaps a { color: var(--faded); text-decoration: none; padding-bottom: 2px; border-bottom: 2px solid transparent; }
.heaps a:hover { color: var(--ink); }
.heaps b { margin-right: 6px; color: var(--ink); font-weight: 600; font-variant-numeric: tabular-nums; }
.heaps .soon b { color: var(--honey); }
.heaps .bad { color: var(--faded); }
.heaps .bad b { color: var(--brick); }
.heaps a[aria-current] { color: var(--ink); border-bottom-color: var(--spruce); }
td, th { padding: 7px 16px 7px 0; border-bottom: 1px solid var(--rule); vertical-align: top; }
.when { white-space: nowrap; color: var(--faded); }
.to { overflow-wrap: anywhere; min-width: 196px; }
.why { max-width: 440px; overflow-wrap: anywhere; }
td .p-button { white-space: nowrap; margin-top: -4px; }
.plain { list-style: none; padding: 6px 0; margin: 0; display: grid; gap: 2px; }
summary { cursor: pointer; color: var(--faded); }
@media (max-width: 700px) {
  table, tbody, tr, td { display: block; }
  thead { display: none; }
  tr { border-bottom: 1px solid var(--rule); padding: 8px 0; }
  td { border: 0; padding: 1px 0; max-width: none; }
}
</style>
