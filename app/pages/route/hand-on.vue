<script setup lang="ts">
import { may } from '#core/roles'
import type { HandOnLead, HandOnView } from '#core/team'

/** What happens to the leads of who has left, is away or will be soon: one screen, and they go on to others. */
useHead({ title: 'Hand on – Cavlin' })
const house = useHouse()
const session = useSession()
const say = useToasts()
const route = useRoute()
const router = useRouter()
const { data, problem, refresh } = useLiveQuery(() => api<HandOnView>('/api/team/hand-on'), { leads: true, colleagues: true }, 2000)
const mayWork = computed(() => session.may('work leads'))
const of = computed(() => String(route.query.of ?? ''))
/** Whoever is named in the address may be handed on for, whatever their reason. */
const person = computed(() => {
  const listed = data.value?.people.find(p => p.id === of.value)
  const member = house.words!.members.find(m => m.id === of.value)
  return listed ?? (member ? { id: member.id, name: member.name, why: null, open: 0, from: null, until: null, standIn: null } : null)
})
const leads = ref<HandOnLead[]>([])
const ticked = ref<string[]>([])
const receivers = ref<string[]>([])
const words = ref('')
const busy = ref(false)
const loaded = ref('')
const isUrgent = (lead: HandOnLead) =>
  lead.waitingSince !== null ||
  (lead.due !== null && person.value?.until !== null && person.value !== null && lead.due < person.value.until!)
async function load(): Promise<void> {
  const who = of.value
  if (!who) return
  try {
    const got = await api<{ leads: HandOnLead[] }>(`/api/team/hand-on/${who}`)
    if (who !== of.value) return
    leads.value = got.leads
    const there = new Set(got.leads.map(l => l.id))
    if (loaded.value === who) {
      ticked.value = ticked.value.filter(id => there.has(id))
      return
    }
    loaded.value = who
    // Who has left keeps nobody; who is away, only those whom nobody needs meanwhile.
    ticked.value = got.leads.filter(l => person.value?.why === 'left' || isUrgent(l)).map(l => l.id)
    receivers.value = person.value?.standIn ? [person.value.standIn] : []
  } catch (error) {
    say.failed(error)
  }
}
watch([of, data], () => void load(), { immediate: true })
const others = computed(() => house.words!.members.filter(m => m.id !== of.value && may(m.role, 'work leads')))
const groups = computed(() =>
  [
    { key: 'waiting', name: 'Wait for an answer', leads: leads.value.filter(l => l.waitingSince !== null) },
    {
      key: 'due',
      name: person.value?.until ? `Something is due before ${due(person.value.until)}` : 'Something is due',
      leads: leads.value.filter(l => l.waitingSince === null && l.due !== null && (!person.value?.until || isUrgent(l))),
    },
    {
      key: 'rest',
      name: 'The others',
      leads: leads.value.filter(l => l.waitingSince === null && (l.due === null || (person.value?.until && !isUrgent(l)))),
    },
  ].filter(g => g.leads.length),
)
function all(group: { leads: HandOnLead[] }): void {
  const ids = group.leads.map(l => l.id)
  const isAll = ids.every(id => ticked.value.includes(id))
  ticked.value = isAll ? ticked.value.filter(id => !ids.includes(id)) : [...new Set([...ticked.value, ...ids])]
}
const WHY = { left: 'has left', away: 'is away', soon: 'will be away' }
const whyOf = (p: HandOnView['people'][number]) =>
  p.why === 'left' ? 'has left' : p.why === 'soon' ? `away from ${due(p.from!)}` : `away until ${due(p.until!)}`
interface Bulk {
  id: string
  state: string
  done: number
  skipped: number
  total: number
}
/** Each receiver gets their turn, in the order in which the leads stand. */
async function hand(): Promise<void> {
  const chosen = leads.value.filter(l => ticked.value.includes(l.id)).map(l => l.id)
  if (!chosen.length || !receivers.value.length || busy.value) return
  busy.value = true
  const began: string[] = []
  try {
    for (const [n, owner] of receivers.value.entries()) {
      const own = chosen.filter((_, i) => i % receivers.value.length === n)
      if (!own.length) continue
      const bulk = await api<Bulk>('/api/team/bulk', {
        method: 'POST',
        body: { act: { do: 'owner', owner, ...(words.value.trim() && { words: words.value.trim() }) }, leads: own },
      })
      began.push(bulk.id)
    }
    for (const id of began) await ended(id)
    words.value = ''
    const to = receivers.value.map(id => house.memberName(id)).join(', ')
    say.done(`${count(chosen.length, 'lead goes', 'leads go')} to ${to}.`, async () => {
      for (const id of began) await api(`/api/team/bulk/${id}/undo`, { method: 'POST' })
      for (const id of began) await ended(id)
      await Promise.all([refresh(), load()])
    })
  } catch (error) {
    say.failed(error)
  } finally {
    busy.value = false
    await Promise.all([refresh(), load()])
  }
}
/** Waits until it is done, stopped or taken back. */
async function ended(id: string): Promise<void> {
  for (;;) {
    const { state } = await api<Bulk>(`/api/team/bulk/${id}`)
    if (state !== 'working' && state !== 'undoing') return
    await new Promise(done => setTimeout(done, 300))
  }
}
const choose = (id: string) => void router.replace({ query: { of: id } })
</script>

<template>
  <div>
    <StageViews :views="ROUTE_VIEWS" called="Route" />
    <h1>Hand on</h1>
    <p class="faded lead-in">Whose leads somebody else should look after: who has left, is away, or will be within three weeks.</p>
    <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="data" class="two">
      <section aria-labelledby="who-title">
        <h2 id="who-title">Who</h2>
        <ul class="who">
          <li v-for="p in data.people" :key="p.id">
            <button type="button" :aria-current="p.id === of ? 'true' : undefined" @click="choose(p.id)">
              <b>{{ p.name }}</b>
              <span class="faded small">
                {{ whyOf(p) }}{{ p.standIn ? `; ${house.memberName(p.standIn)} stands in` : p.why === 'left' ? '' : '; nobody stands in' }}
              </span>
              <span class="figures">{{ p.open }} open</span>
            </button>
          </li>
        </ul>
        <p v-if="!data.people.length" class="faded">Nobody is away, and nobody who left has open leads.</p>
        <Select
          :model-value="null"
          :options="others"
          option-label="name"
          option-value="id"
          placeholder="Somebody else …"
          aria-label="Somebody else"
          size="small"
          @update:model-value="choose"
        />
      </section>
      <section v-if="person" class="sheet leads" :aria-label="`The open leads of ${person.name}`">
        <h2>
          {{ person.name }}
          <span v-if="person.why" class="faded">{{ WHY[person.why] }}</span> <span class="faded figures">{{ leads.length }}</span>
        </h2>
        <form v-if="leads.length && mayWork" class="to" @submit.prevent="hand">
          <label for="hand-to">To</label>
          <MultiSelect
            v-model="receivers"
            input-id="hand-to"
            :options="others"
            option-label="name"
            option-value="id"
            placeholder="Whom, by turns"
            :show-toggle-all="false"
            :max-selected-labels="3"
          />
          <InputText v-model="words" maxlength="600" placeholder="A word to them" aria-label="A word to them" class="words" />
          <Button
            type="submit"
            :label="`Hand on ${count(ticked.length, 'lead', 'leads')}`"
            :disabled="!ticked.length || !receivers.length"
            :loading="busy"
          />
        </form>
        <p v-else-if="!leads.length" class="faded">They have no open leads.</p>
        <template v-for="g in groups" :key="g.key">
          <h3>
            {{ g.name }}
            <span class="faded figures">
              {{ g.leads.length }}
            </span> <Button
              :label="g.leads.every(l => ticked.includes(l.id)) ? 'None of them' : 'All of them'"
              size="small"
              variant="text"
              :aria-label="`${g.name}: all or none`"
              @click="all(g)"
            />
          </h3>
          <ul class="rows">
            <li v-for="l in g.leads" :key="l.id">
              <Checkbox v-model="ticked" :value="l.id" :input-id="`hand-${l.id}`" :aria-label="l.name" :disabled="!mayWork" />
              <span>
                <NuxtLink :to="`/follow-up/leads/${l.id}`"><b>{{ l.name }}</b></NuxtLink> <span class="faded">{{ l.company }}</span>
              </span>
              <LabelMark :label="l.label" />
              <span class="faded small">{{ house.statusName(l.status) }}</span>
              <span class="small">
                {{ l.waitingSince ? `waits since ${ago(l.waitingSince)}` : l.due ? `${l.nextStep}, ${due(l.due)}` : '' }}
              </span>
            </li>
          </ul>
        </template>
      </section>
    </div>
  </div>
</template>

<style scoped>
.lead-in { margin: 4px 0 14px; }
.two { display: grid; grid-template-columns: minmax(250px, 1fr) minmax(0, 3fr); gap: 24px; align-items: start; }
ul { list-style: none; margin: 8px 0 12px; padding: 0; }
.who li { border-top: 1px solid var(--rule); } .who button { all: unset; display: grid; width: 100%; box-sizing: border-box; padding: 8px 10px; cursor: pointer; } .who button[aria-current] { background: var(--wash); box-shadow: inset 3px 0 var(--spruce); } .who button:focus-visible { outline: 2px solid var(--spruce); outline-offset: -2px; }
.leads { padding: 16px 20px; } h3 { margin-top: 16px; display: flex; gap: 10px; align-items: center; }
.to { display: flex; flex-wrap: wrap; gap: 8px 10px; align-items: center; margin-top: 10px; } .words { flex: 1 1 180px; }
.rows li { display: grid; grid-template-columns: 22px minmax(0, 2fr) 172px 104px minmax(0, 1.5fr); gap: 10px; align-items: center; padding: 6px 0; border-top: 1px solid var(--rule); overflow-wrap: anywhere; }
.rows a { color: inherit; text-decoration: none; } .rows a:hover { text-decoration: underline; } .rows :deep(.label) { white-space: nowrap; }
@media (max-width: 900px) { .two { grid-template-columns: minmax(0, 1fr); } .rows li { grid-template-columns: 22px minmax(0, 1fr); } .rows li > :nth-child(n+3) { grid-column: 2; } }
</style>
