<script setup lang="ts">
import { likelyInWords } from '#core/identity/likeness'
import { alikeInWords, type ComparedLine, type Comparison } from '#core/review'

/** Two leads side by side: what each says, what is kept, and whether they are one person. */
const props = defineProps<{ a: string; b: string }>()
const emit = defineEmits<{ judged: [was: 'joined' | 'two', lead: string] }>()
const say = useToasts()
const { data, problem, refresh } = useLiveQuery(
  () => api<Comparison>('/api/team/review/compare', { query: { a: props.a, b: props.b } }),
  () => ({ leads: [props.a, props.b] }),
)
/** Which of the two stays; null: as Cavlin proposes. */
const chosen = ref<0 | 1 | null>(null)
/** Whose word is kept, line by line, where somebody chose. */
const words = ref<Record<string, 0 | 1>>({})
watch(
  () => `${props.a} ${props.b}`,
  () => {
    chosen.value = null
    words.value = {}
    void refresh()
  },
)
const pair = computed(() =>
  data.value && data.value.leads.some(l => l.id === props.a) && data.value.leads.some(l => l.id === props.b) ? data.value : null,
)
const stays = computed(() => chosen.value ?? pair.value?.stays ?? 0)
const goes = computed(() => (1 - stays.value) as 0 | 1)
const differs = (line: ComparedLine) => !line.isSame && line.values[0] !== null && line.values[1] !== null
/** Whose word a line keeps: what one of them does not say, the other one does. */
const keeps = (line: ComparedLine): 0 | 1 =>
  line.values[0] === null ? 1 : line.values[1] === null ? 0 : (words.value[line.what] ?? stays.value)
const lines = computed(() => pair.value?.lines.filter(l => !l.isSame) ?? [])
const alike = computed(() => pair.value?.lines.filter(l => l.isSame) ?? [])
const held = (i: 0 | 1): string => {
  const { entries, visits, mails, notes, lists, tags } = pair.value!.leads[i].holds
  const parts = [
    entries && count(entries, 'entry', 'entries'),
    visits && count(visits, 'visit', 'visits'),
    mails && count(mails, 'mail', 'mails'),
    notes && count(notes, 'note', 'notes'),
    lists.length && `on ${lists.map(l => `“${l}”`).join(', ')}`,
    tags.length && tags.map(t => `#${t}`).join(' '),
  ].filter(Boolean)
  return parts.length ? parts.join(', ') : 'nothing yet'
}
const leaver = computed(() => pair.value?.leads.find(l => l.isUnsubscribed))

const busy = ref(false)
async function judge(work: () => Promise<void>): Promise<void> {
  if (busy.value || !pair.value) return
  busy.value = true
  try {
    await work()
  } catch (error) {
    say.failed(error)
    await refresh()
  } finally {
    busy.value = false
  }
}
const join = () =>
  judge(async () => {
    const [kept, gone] = [pair.value!.leads[stays.value], pair.value!.leads[goes.value]]
    const take = lines.value.filter(l => differs(l) && keeps(l) === goes.value).map(l => l.what)
    const { id } = await api<{ id: string }>('/api/team/merges', { method: 'POST', body: { kept: kept.id, gone: gone.id, take } })
    say.done(`${gone.name} and ${kept.name} are one lead now.`, () => api(`/api/team/merges/${id}`, { method: 'DELETE' }))
    emit('judged', 'joined', kept.id)
  })
const keepTwo = () =>
  judge(async () => {
    const leads = [props.a, props.b]
    const [one, other] = pair.value!.leads
    await api('/api/team/review/apart', { method: 'PUT', body: { leads, apart: true } })
    say.done(`${one.name} and ${other.name} stay two.`, () =>
      api('/api/team/review/apart', { method: 'PUT', body: { leads, apart: false } }),
    )
    emit('judged', 'two', one.id)
  })
useKeys({ o: () => void join(), t: () => void keepTwo() })
</script>

<template>
  <p v-if="problem && !pair" class="brick" role="alert">{{ problem.message }}</p>
  <section v-else-if="pair" class="compare" aria-label="Two leads side by side">
    <p v-if="pair.strength !== null" class="why"><b>{{ likelyInWords(pair.strength) }}:</b> {{ alikeInWords(pair.reasons) }}.</p>
    <div class="scroll" role="region" tabindex="0" aria-label="What each of the two says">
      <table class="figures">
        <colgroup><col class="what"><col><col></colgroup>
        <thead>
          <tr>
            <th scope="col"><span class="unseen">What</span></th>
            <th v-for="i in [0, 1] as const" :key="i" scope="col">
              <span class="name">
                <LeadPin :fit="pair.leads[i].fit" :interest="pair.leads[i].interest" />
                <NuxtLink :to="`/follow-up/leads/${pair.leads[i].id}`">{{ pair.leads[i].name }}</NuxtLink>
              </span>
              <span class="faded small"><LabelMark :label="pair.leads[i].label" /> here since {{ day(pair.leads[i].createdAt) }}</span>
              <label class="stays">
                <RadioButton :model-value="stays" :value="i" :input-id="`stays-${i}`" name="stays" @update:model-value="chosen = i" />
                {{ stays === i ? 'Stays' : 'Goes into the other' }}
              </label>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in lines" :key="line.what">
            <th scope="row">{{ line.label }}</th>
            <td v-for="i in [0, 1] as const" :key="i" :class="{ out: keeps(line) !== i }">
              <label v-if="differs(line)">
                <RadioButton
                  :model-value="keeps(line)"
                  :value="i"
                  :input-id="`${line.what}-${i}`"
                  :name="line.what"
                  @update:model-value="words = { ...words, [line.what]: i }"
                /> <span>
                  {{ line.texts[i] }}
                </span>
              </label>
              <span v-else-if="line.values[i] !== null" class="alone">{{ line.texts[i] }}</span>
              <span v-else class="faded" aria-label="Says nothing">–</span>
            </td>
          </tr>
          <tr v-if="alike.length">
            <th scope="row">Both say</th>
            <td colspan="2">
              <span v-for="(line, i) in alike" :key="line.what">
                <template v-if="i"> · </template>
                <span class="faded">{{ line.label }}</span> {{ line.texts[0] }}
              </span>
            </td>
          </tr>
          <tr class="held"><th scope="row">Comes together</th><td v-for="i in [0, 1] as const" :key="i">{{ held(i) }}</td></tr>
        </tbody>
      </table>
    </div>
    <p v-if="leaver" class="small">{{ leaver.name }} wants no more mails: nor will they as one.</p>
    <div class="do">
      <Button :loading="busy" @click="join"><span>One person: join them</span> <kbd>o</kbd></Button>
      <Button variant="outlined" :disabled="busy" @click="keepTwo"><span>Two people</span> <kbd>t</kbd></Button>
      <p class="faded small">Nothing of either is lost. Both addresses lead to the one that stays; mails go to the address that is kept.
        They can be taken apart again on the lead’s page.</p>
    </div>
  </section>
  <p v-else class="faded">Fetching …</p>
</template>

<style scoped>
.compare { display: grid; gap: 12px; grid-template-columns: minmax(0, 1fr); }
col.what { width: 128px; }
th[scope='row'] { padding: 6px 12px 6px 0; text-align: left; vertical-align: top; font-weight: 400; color: var(--faded); font-size: 14px; }
thead th { padding: 0 12px 8px 0; vertical-align: top; }
td { padding: 6px 12px 6px 0; vertical-align: top; overflow-wrap: anywhere; border-top: 1px solid var(--rule); }
th[scope='row'] { border-top: 1px solid var(--rule); }
table { table-layout: fixed; }
td label, .stays { display: flex; gap: 8px; align-items: flex-start; cursor: pointer; }
td label span, .alone { white-space: pre-wrap; }
.out { color: var(--faded); text-decoration: line-through; text-decoration-thickness: 1px; }
.out .faded { text-decoration: none; }
.name { display: flex; gap: 8px; align-items: center; font-size: 15px; color: var(--ink); }
.name a { font-weight: 620; color: inherit; }
thead .small { display: flex; flex-wrap: wrap; gap: 0 8px; font-weight: 400; margin: 2px 0 6px; }
.stays { font-weight: 400; color: var(--ink); }
.do { display: flex; flex-wrap: wrap; gap: 8px 10px; align-items: center; }
.do p { flex-basis: 100%; }
@media (max-width: 560px) {
  table, thead, tbody { display: block; }
  tr { display: grid; grid-template-columns: 1fr 1fr; border-top: 1px solid var(--rule); }
  th[scope='row'] { grid-column: 1 / -1; padding-bottom: 0; border: 0; }
  td { border: 0; padding-top: 2px; } td[colspan] { grid-column: 1 / -1; }
  thead th:first-child { display: none; }
  thead tr { border: 0; }
}
</style>
