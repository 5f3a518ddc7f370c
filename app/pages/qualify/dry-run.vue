<script setup lang="ts">
import type { Both } from '#core/scoring/dry-run'
import type { Scorecard } from '#core/scoring/scorecard'
import type { DryRunView, MovedPerson, NamedMover, ScorecardView, WhyUnderBoth } from '#core/team'
const views = useQualifyViews()

/** What the scorecard that is worked on would make of the leads, before it is made live. */
useHead({ title: 'Dry run – Cavlin' })
const house = useHouse()
const session = useSession()
const { done } = useToasts()
const mayEdit = computed(() => session.may('edit scorecard'))
const { data, refresh } = useLiveQuery(
  () => api<{ run: DryRunView | null }>('/api/team/scorecard/dry-run'),
  { dryRun: true, scorecard: true },
  400,
)
const { data: card, refresh: refreshCard } = useLiveQuery(() => api<ScorecardView>('/api/team/scorecard'), { scorecard: true }, 400)
const run = computed(() => data.value?.run ?? null)
const isUnderWay = computed(() => run.value !== null && ['waiting', 'working'].includes(run.value.state))
const problem = ref('')
const say = (error: unknown) => {
  problem.value = error instanceof ApiError && error.flaws.length ? error.flaws.map(f => f.message).join(' ') : (error as Error).message
}
const isChanged = (view: ScorecardView) => JSON.stringify(view.workingCopy) !== JSON.stringify(view.live?.definition ?? null)

const DAYS = [30, 90, 365]
const whoms = computed(() => [
  { value: 'all', text: 'All leads' },
  ...DAYS.map(d => ({ value: `days ${d}`, text: `Those who came in the last ${d} days` })),
  ...house.words!.segments.map(s => ({ value: `segment ${s.id}`, text: `The segment “${s.name}”` })),
])
const asked = ref('all')
const whomOf = (value: string) => {
  const [kind, of] = value.split(' ') as [string, string | undefined]
  return kind === 'days' ? { days: Number(of) } : kind === 'segment' ? { segment: of } : {}
}
const whomText = (who: DryRunView['who']) =>
  who.segment
    ? `the segment “${house.words!.segments.find(s => s.id === who.segment)?.name ?? 'that was removed'}”`
    : who.days
      ? `those who came in the last ${who.days} days`
      : 'all leads'
const starting = ref(false)
async function start(): Promise<void> {
  if (starting.value) return
  starting.value = true
  problem.value = ''
  try {
    const { revision } = await api<ScorecardView>('/api/team/scorecard')
    await api('/api/team/scorecard/dry-run', { method: 'POST', body: { revision, ...whomOf(asked.value) } })
    cell.value = null
  } catch (error) {
    say(error)
  } finally {
    starting.value = false
    await refresh()
  }
}
async function stop(): Promise<void> {
  try {
    await api('/api/team/scorecard/dry-run', { method: 'DELETE' })
  } catch (error) {
    say(error)
  }
  await refresh()
}
/** Whoever comes from the scorecard wants to see it as it stands there; what was worked out for just that stays. */
const route = useRoute()
onMounted(async () => {
  await Promise.all([refresh(), refreshCard()])
  if (route.query.begin === undefined || !mayEdit.value) return
  await navigateTo({ query: {} }, { replace: true })
  if (!isUnderWay.value && !(run.value?.state === 'done' && run.value.isCurrent)) await start()
})

const cell = ref<{ from: string | null; to: string | null } | null>(null)
const people = shallowRef<MovedPerson[]>([])
const more = ref(false)
const why = shallowRef<WhyUnderBoth | null>(null)
const named = (label: string | null) => label ?? 'none'
async function fetchPeople(page = 0): Promise<void> {
  const { from, to } = cell.value!
  try {
    const came = await api<{ people: MovedPerson[]; more: boolean }>(
      `/api/team/scorecard/dry-run/people?${new URLSearchParams({ from: named(from), to: named(to), page: String(page) })}`,
    )
    people.value = page ? [...people.value, ...came.people] : came.people
    more.value = came.more
  } catch (error) {
    say(error)
  }
}
async function open(from: string | null, to: string | null): Promise<void> {
  cell.value = { from, to }
  why.value = null
  await fetchPeople()
  await nextTick()
  document.getElementById('cell')?.focus()
}
async function askWhy(lead: string): Promise<void> {
  if (why.value?.lead === lead) return void (why.value = null)
  try {
    why.value = await api<WhyUnderBoth>(`/api/team/scorecard/dry-run/leads/${lead}`)
  } catch (error) {
    say(error)
  }
}
/** Of a run that is done the largest move is open at once; what was open of another belongs to that. */
watch(
  () => (run.value?.state === 'done' ? run.value.id : null),
  async (now, before) => {
    if (now !== before) cell.value = null
    const [largest] = (now && run.value?.result?.flows.filter(f => f.from !== f.to).sort((a, b) => b.leads - a.leads)) || []
    if (!largest) return
    cell.value = { from: largest.from, to: largest.to }
    why.value = null
    await fetchPeople()
  },
)
const publishing = ref(false)
const stops = computed(() => card.value?.checks.some(c => c.level === 'stop') ?? true)
async function makeLive(): Promise<void> {
  publishing.value = true
  problem.value = ''
  try {
    card.value = await api<ScorecardView>('/api/team/scorecard/publish', { method: 'POST', body: { revision: run.value!.revision } })
    done(`Edition ${card.value.live!.number} is live. Leads are scored anew in the background.`)
  } catch (error) {
    say(error)
  } finally {
    publishing.value = false
    await refresh()
  }
}
const ownerOf = (id: string | null) =>
  id === null ? 'Nobody’s' : (house.words!.members.find(m => m.id === id)?.name ?? 'Somebody who left')
const owners = computed(() => [...(run.value?.result?.owners ?? [])].sort((a, b) => ownerOf(a.owner).localeCompare(ownerOf(b.owner))))
const qualified = computed(() => house.words!.labels.filter(l => l.qualified).reverse())
const fromTo = (n: Both | undefined) => (!n ? '–' : n.was === n.would ? String(n.was) : `${n.was} → ${n.would}`)
const sides = (p: MovedPerson, axis: 'fit' | 'interest'): Both => ({ was: p.before[axis], would: p.after[axis] })
const signed = (n: number) => (n > 0 ? `+${n}` : n < 0 ? `−${-n}` : '0')
const by = (m: NamedMover) => m.by.map(b => `${b.name} ${signed(Math.round(b.change))}`).join(', ')
const size = (m: NamedMover) => signed(Math.round(m.change))
const movers = computed(() => [
  { name: 'Who gains most', list: run.value?.result?.gains ?? [] },
  { name: 'Who loses most', list: run.value?.result?.losses ?? [] },
])
const live = computed<Scorecard | null>(() => card.value?.live?.definition ?? null)
</script>

<template>
  <div class="page">
    <StageViews :views="views" called="Qualify" />
    <div class="head">
      <h1>Dry run</h1>
      <p class="state" role="status">
        <template v-if="run?.state === 'done'">
          What the scorecard would make of {{ whomText(run.who) }}, beside edition {{ run.card }}; worked out {{ ago(run.at)
          }}<template v-if="run.by">, by {{ run.by }}</template>.
        </template>
        <template v-else-if="isUnderWay">
          {{ run!.done.toLocaleString('en') }} of {{ run!.total?.toLocaleString('en') ?? '…' }} people are weighed.
        </template>
        <template v-else-if="run?.state === 'stopped'">It was stopped before it was done.</template>
      </p>
      <div v-if="mayEdit" class="acts">
        <Select v-model="asked" :options="whoms" option-label="text" option-value="value" size="small" aria-label="About whom" />
        <Button v-if="isUnderWay" label="Stop" severity="secondary" variant="outlined" size="small" @click="stop" />
        <Button
          v-else
          :label="run ? 'Run it again' : 'Run it'"
          severity="secondary"
          variant="outlined"
          size="small"
          :loading="starting"
          @click="start"
        />
        <Button
          label="Make it live"
          :disabled="!card || !run || run.state !== 'done' || !run.isCurrent || stops || !isChanged(card)"
          :loading="publishing"
          @click="makeLive"
        />
      </div>
    </div>
    <ProgressBar
      v-if="isUnderWay"
      :value="run!.total ? Math.round((100 * run!.done) / run!.total) : 0"
      aria-label="How far the dry run has come"
    />
    <p v-if="problem" role="alert" class="banner">{{ problem }}</p>
    <p v-if="run?.state === 'failed'" role="alert" class="banner">It came to no end: {{ run.problem }}</p>
    <p v-if="card && !isChanged(card) && live" class="banner">
      <template v-if="run?.state === 'done'">Nothing is worked on now: edition {{ card.live!.number }} is live.</template>
      <template v-else>
        The scorecard is live as it stands. <NuxtLink to="/qualify">Change something</NuxtLink>, and see here what would come of it.
      </template>
    </p>
    <p v-else-if="run?.state === 'done' && !run.isCurrent" class="banner">
      The scorecard was changed since. Run it again to see what would come of it now.
    </p>
    <p v-if="data && !run && card && isChanged(card)" class="banner">
      Nothing has been tried yet<template v-if="!mayEdit">; managers do</template>.
    </p>
    <template v-if="run?.state === 'done' && run.result">
      <p v-if="!run.result.leads" class="faded">There is nobody among {{ whomText(run.who) }}.</p>
      <template v-else>
        <div class="two">
          <section aria-labelledby="flows">
            <h2 id="flows">From label to label</h2>
            <ScoringFlowTable :flows="run.result.flows" :chosen="cell" @open="open" />
          </section>
          <section aria-labelledby="cell">
            <template v-if="cell">
              <h2 id="cell" tabindex="-1">
                <template v-if="cell.from === cell.to">They stay {{ house.labelName(cell.to) }}</template>
                <template v-else>From {{ house.labelName(cell.from) }} to {{ house.labelName(cell.to) }}</template>
              </h2>
              <ul class="people">
                <li v-for="p in people" :key="p.lead">
                  <div class="person">
                    <NuxtLink :to="`/follow-up/leads/${p.lead}`">{{ p.name }}</NuxtLink>
                    <Button
                      label="Why"
                      size="small"
                      variant="text"
                      :aria-expanded="why?.lead === p.lead"
                      :aria-label="`Why, for ${p.name}`"
                      @click="askWhy(p.lead)"
                    />
                    <span class="faded small">{{ [p.company, p.owner].filter(Boolean).join(', ') }}</span>
                    <span class="n small">fit {{ fromTo(sides(p, 'fit')) }}, interest {{ fromTo(sides(p, 'interest')) }}</span>
                  </div>
                  <ScoringWhyBoth v-if="why?.lead === p.lead" :why="why" />
                </li>
              </ul>
              <p v-if="!people.length" class="faded">They are no leads any more.</p>
              <Button
                v-if="more"
                label="More of them"
                size="small"
                variant="outlined"
                @click="fetchPeople(Math.round(people.length / 100))"
              />
            </template>
            <p v-else class="faded">Each figure opens its people.</p>
          </section>
        </div>
        <div class="two lower">
          <section v-for="m in movers" :key="m.name" :aria-label="m.name">
            <h2>{{ m.name }}</h2>
            <table v-if="m.list.length" class="figures">
              <tbody>
                <tr v-for="one in m.list" :key="one.lead">
                  <td>
                    <NuxtLink :to="`/follow-up/leads/${one.lead}`">{{ one.name }}</NuxtLink> <span class="faded small">{{ by(one) }}</span>
                  </td>
                  <td class="n">{{ size(one) }}</td>
                </tr>
              </tbody>
            </table>
            <p v-else class="faded">Nobody.</p>
          </section>
          <section aria-labelledby="by-rule">
            <h2 id="by-rule">By which rule</h2>
            <div v-if="run.result.rules.length" class="scroll" tabindex="0" role="region" aria-label="Rules and what they give">
              <table class="figures">
                <thead>
                  <tr>
                    <th scope="col">Rule</th>
                    <th scope="col" class="n">People</th>
                    <th scope="col" class="n">More points</th>
                    <th scope="col" class="n">Fewer</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="r in run.result.rules" :key="r.axis + r.rule">
                    <td>{{ r.name }}</td>
                    <td class="n">{{ r.leads.toLocaleString('en') }}</td>
                    <td class="n">{{ r.more ? Math.round(r.more).toLocaleString('en') : '–' }}</td>
                    <td class="n">{{ r.less ? Math.round(r.less).toLocaleString('en') : '–' }}</td>
                  </tr>
                </tbody>
              </table>
            </div>
            <p v-else class="faded">No rule gives anybody other points.</p>
          </section>
          <section aria-labelledby="by-owner">
            <h2 id="by-owner">What it means for each of us</h2>
            <div class="scroll" tabindex="0" role="region" aria-label="Owners and what they would have">
              <table class="figures">
                <thead>
                  <tr>
                    <th scope="col">Owner</th>
                    <th v-for="l in qualified" :key="l.key" scope="col" class="n">{{ l.name }}</th>
                    <th scope="col" class="n">Of those, waiting</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="o in owners" :key="String(o.owner)">
                    <td>{{ ownerOf(o.owner) }}</td>
                    <td v-for="l in qualified" :key="l.key" class="n">{{ fromTo(o.labels[l.key]) }}</td>
                    <td class="n">{{ fromTo(o.waiting) }}</td>
                  </tr>
                </tbody>
              </table>
            </div>
          </section>
        </div>
        <section v-if="run.result.ends.length" aria-labelledby="ends" class="lower">
          <h2 id="ends">Who was won or lost since, and what they would have carried at that moment</h2>
          <p class="faded small">
            By what is known of them today, and by what they had done until then; both columns are worked out alike.
          </p>
          <div class="scroll" tabindex="0" role="region" aria-label="Won and lost, by label">
            <table class="figures ends">
              <thead>
                <tr>
                  <th scope="col">Label</th>
                  <th scope="col" class="n">Won, live</th>
                  <th scope="col" class="n">Won, tried</th>
                  <th scope="col" class="n">Lost, live</th>
                  <th scope="col" class="n">Lost, tried</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="e in run.result.ends" :key="String(e.label)">
                  <th scope="row"><LabelMark :label="e.label" /></th>
                  <td class="n">{{ e.won.was }}</td>
                  <td class="n">{{ e.won.would }}</td>
                  <td class="n">{{ e.lost.was }}</td>
                  <td class="n">{{ e.lost.would }}</td>
                </tr>
              </tbody>
            </table>
          </div>
        </section>
      </template>
    </template>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: end;
}
.state {
  flex: 1;
  min-width: 260px;
  margin: 0;
  padding-bottom: 3px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.lower {
  margin-top: 26px;
}
.people {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
  max-height: 420px;
  overflow: auto;
}
li {
  border-bottom: 1px solid var(--rule);
  padding: 3px 0;
}
.person {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
}
.person .n {
  margin-left: auto;
}
td,
th {
  padding: 5px 0 5px 12px;
  border-bottom: 1px solid var(--rule);
  text-align: left;
}
td:first-child,
th:first-child {
  padding-left: 6px;
}
tbody th {
  font-weight: 400;
}
.n {
  text-align: right;
  white-space: nowrap;
}
.ends {
  max-width: 640px;
}
</style>
